import { and, eq, sql } from 'drizzle-orm'
import type { Database } from '../database/connect'
import { inTransaction } from '../database/inTransaction'
import { exposure } from '../database/schema'
import { refoldVisitors } from '../services/results/foldPortion'
import { NEXT_EXPOSED_VISITORS, TAKE_FOLD_LOCK } from '../services/results/plans'
import { refreshSummaries } from '../services/results/summaries'
import { noteEnd, noteProgress } from './backgroundJobs'
import type { RefoldJob } from './queue'

const VISITORS_AT_A_TIME = 1000

/**
 * Computes an experiment's numbers anew, portion by portion, each in a transaction of its own. Between the portions new
 * events are folded as ever; what was computed anew stays right whatever comes.
 */
export async function refoldExperiment(database: Database, job: RefoldJob): Promise<void> {
  const { siteId, experimentId } = job
  const total = await countExposed(database, siteId, experimentId)
  let done = 0
  let last = ''
  while (await noteProgress(database, job, total === 0 ? 0 : Math.min(1, done / total))) {
    const visitors = await inTransaction(database.$client, async (client) => {
      await client.query(TAKE_FOLD_LOCK, [siteId])
      const { rows } = await client.query<{ visitor: string }>(NEXT_EXPOSED_VISITORS, [
        siteId,
        experimentId,
        last,
        VISITORS_AT_A_TIME,
      ])
      const ids = rows.map(({ visitor }) => visitor)
      if (ids.length > 0) await refoldVisitors(client, siteId, experimentId, ids)
      return ids
    })
    if (visitors.length === 0) {
      await refreshSummaries(database, siteId, [experimentId], new Date())
      return noteEnd(database, job, 'done')
    }
    done += visitors.length
    last = visitors.at(-1)!
  }
}

async function countExposed(database: Database, siteId: number, experimentId: number): Promise<number> {
  const [found] = await database
    .select({ visitors: sql<number>`count(*)::int` })
    .from(exposure)
    .where(and(eq(exposure.siteId, siteId), eq(exposure.experimentId, experimentId)))
  return found?.visitors ?? 0
}
