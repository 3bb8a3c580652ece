import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { randomUUID } from 'node:crypto'
import { and, desc, eq, gt } from 'drizzle-orm'
import { applyChange } from '../../../core/sheet/change'
import { SHEET_PARTS, type SheetContent } from '../../../core/sheet/content'
import { isSame } from '../../../core/sheet/isSame'
import { contentOf } from '../../../shared/experiments/experiment'
import type { Database } from '../../database/connect'
import { changeLog } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { changeSheet } from './changeSheet'
import { findSheet, type Target } from './sheet'

/**
 * Makes a draft again what it was after a change, by taking back what came later, the latest first. It is a change
 * like any other, and can be taken back as one.
 *
 * @param entryId - of the change log
 */
export async function restoreState(database: Database, target: Target, entryId: number): Promise<ExperimentSheet> {
  const { siteId, experimentId } = target
  const sheet = await findSheet(database, siteId, experimentId)
  const later = await database
    .select({ action: changeLog.action, inverse: changeLog.inverse })
    .from(changeLog)
    .where(
      and(
        eq(changeLog.siteId, siteId),
        eq(changeLog.subject, 'experiment'),
        eq(changeLog.subjectId, experimentId),
        gt(changeLog.id, entryId),
      ),
    )
    .orderBy(desc(changeLog.id))
  const now = contentOf(sheet)
  let then = now
  for (const { action, inverse } of later) {
    if (action !== 'changed') continue
    if (!inverse) throw new HttpProblem(409, 'What was changed since is too old to be taken back.')
    then = applyChange(then, inverse).content
  }
  const parts = SHEET_PARTS.filter((part) => !isSame(now[part], then[part]))
  const pick = (content: SheetContent) => Object.fromEntries(parts.map((part) => [part, content[part]]))
  // Refused where somebody changes the same parts just now.
  return changeSheet(database, target, {
    id: randomUUID(),
    change: { do: 'replace', from: pick(now), to: pick(then) },
  })
}
