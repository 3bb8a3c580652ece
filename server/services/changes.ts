import { and, desc, eq } from 'drizzle-orm'
import type { ChangeView } from '../../shared/experiment'
import type { Queries } from '../database/connect'
import { changeLog, person } from '../database/schema'

export type Change = typeof changeLog.$inferInsert

/** Writes down who changed what, within the transaction that changes it. */
export async function recordChange(database: Queries, change: Change): Promise<void> {
  await database.insert(changeLog).values(change)
}

/** The changes of one subject, the latest first. */
export async function changesOf(
  database: Queries,
  siteId: number,
  subject: string,
  subjectId: number,
): Promise<ChangeView[]> {
  const rows = await database
    .select({
      id: changeLog.id,
      at: changeLog.at,
      person: person.name,
      action: changeLog.action,
      before: changeLog.before,
      after: changeLog.after,
    })
    .from(changeLog)
    .leftJoin(person, eq(person.id, changeLog.personId))
    .where(and(eq(changeLog.siteId, siteId), eq(changeLog.subject, subject), eq(changeLog.subjectId, subjectId)))
    .orderBy(desc(changeLog.id))
    .limit(500)
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }))
}
