import type { Database } from '../../database/connect'
import { inTransaction } from '../../database/inTransaction'
import { HttpProblem } from '../HttpProblem'
import { renewNumbers } from '../results/renewNumbers'
import { refreshDueSummaries } from '../results/foldAndSummarize'
import { NOTE_SUMMARIES_DUE, TAKE_FOLD_LOCK } from '../results/plans'
import * as plans from './plans'

/**
 * Erases everything that is kept of a visitor. They are taken out of the sums of every experiment first, which are then
 * as if they had never come.
 *
 * @returns how many rows were erased
 * @throws HttpProblem 404 for an id of which nothing is kept
 */
export async function eraseVisitor(
  database: Database,
  siteId: number,
  personId: number | null,
  visitor: string,
): Promise<number> {
  const rows = await inTransaction(database.$client, async (client) => {
    // Nothing is folded meanwhile that would bring some of it back.
    await client.query(TAKE_FOLD_LOCK, [siteId])
    const persons = await client.query<{ id: string }>(plans.PERSONS, [siteId, visitor])
    const experiments = new Set<number>()
    let erased = 0
    for (const unit of [visitor, ...persons.rows.map(({ id }) => id)]) {
      await client.query(plans.LEAVE_OUT, [siteId, unit])
      const exposed = await client.query<{ id: number }>(plans.EXPERIMENTS, [siteId, unit])
      for (const { id } of exposed.rows) await renewNumbers(client, siteId, id, [unit])
      exposed.rows.forEach(({ id }) => experiments.add(id))
      for (const table of plans.TABLES)
        erased += (await client.query(plans.deleteFrom(table), [siteId, unit])).rowCount ?? 0
    }
    if (erased === 0) throw new HttpProblem(404, 'Nothing is kept of a visitor with this id.')
    await client.query(plans.FORGET_IN_LOG, [siteId, visitor])
    await client.query(plans.FORGET_IN_FINDINGS, [siteId, visitor])
    await client.query(plans.NOTE_ERASURE, [siteId, personId])
    await client.query(NOTE_SUMMARIES_DUE, [siteId, [...experiments]])
    return erased
  })
  await refreshDueSummaries(database, new Date())
  return rows
}
