import type { ChangeView } from '../../shared/experiments/replies'
import { and, desc, eq, sql } from 'drizzle-orm'
import { pageOf, type Paged, type PageQuery } from '../../shared/api/paging'
import type { Queries } from '../database/connect'
import { olderThan } from '../database/olderThan'
import { changeLog, person } from '../database/schema'

export type Change = typeof changeLog.$inferInsert

/** Writes down who changed what, within the transaction that changes it. */
export async function recordChange(database: Queries, change: Change): Promise<void> {
  await database.insert(changeLog).values(change)
}

/** A page of the changes of one subject, the latest first. */
export async function changesOf(
  database: Queries,
  siteId: number,
  of: { subject: string; id: number },
  { after, limit }: PageQuery,
): Promise<Paged<ChangeView>> {
  const rows = await database
    .select({
      id: changeLog.id,
      at: changeLog.at,
      person: person.name,
      action: changeLog.action,
      words: changeLog.words,
      mayRestore: sql<boolean>`${changeLog.inverse} IS NOT NULL`,
      before: changeLog.before,
      after: changeLog.after,
    })
    .from(changeLog)
    .leftJoin(person, eq(person.id, changeLog.personId))
    .where(
      and(
        eq(changeLog.siteId, siteId),
        eq(changeLog.subject, of.subject),
        eq(changeLog.subjectId, of.id),
        olderThan(changeLog.id, after),
      ),
    )
    .orderBy(desc(changeLog.id))
    .limit(limit + 1)
  return pageOf(
    rows.map((row) => ({ ...row, at: row.at.toISOString() })),
    limit,
  )
}
