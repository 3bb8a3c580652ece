import type { Database } from '../../database/connect'
import { inTransaction } from '../../database/inTransaction'
import { HttpProblem } from '../HttpProblem'
import { refoldVisitors } from '../results/foldPortion'
import { TAKE_FOLD_LOCK } from '../results/plans'
import { refreshSummaries } from '../results/summaries'
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
  const { rows, experiments } = await inTransaction(database.$client, async (client) => {
    // Nothing is folded meanwhile that would bring some of it back.
    await client.query(TAKE_FOLD_LOCK, [siteId])
    await client.query(plans.LEAVE_OUT, [siteId, visitor])
    const exposed = await client.query<{ id: number }>(plans.EXPERIMENTS, [siteId, visitor])
    for (const { id } of exposed.rows) await refoldVisitors(client, siteId, id, [visitor])
    let erased = 0
    for (const table of plans.TABLES)
      erased += (await client.query(plans.deleteFrom(table), [siteId, visitor])).rowCount ?? 0
    if (erased === 0) throw new HttpProblem(404, 'Nothing is kept of a visitor with this id.')
    await client.query(plans.FORGET_IN_LOG, [siteId, visitor])
    await client.query(plans.FORGET_IN_FINDINGS, [siteId, visitor])
    await client.query(plans.NOTE_ERASURE, [siteId, personId])
    return { rows: erased, experiments: exposed.rows.map(({ id }) => id) }
  })
  await refreshSummaries(database, siteId, experiments, new Date())
  return rows
}
