import { and, eq, sql } from 'drizzle-orm'
import type { Database } from '../database/connect'
import { inTransaction } from '../database/inTransaction'
import { backgroundJob, exposure } from '../database/schema'
import { refreshDueSummaries } from '../services/results/foldAndSummarize'
import { NEXT_EXPOSED_VISITORS, NOTE_SUMMARIES_DUE, TAKE_FOLD_LOCK } from '../services/results/queries'
import { renewNumbers } from '../services/results/renewNumbers'
import { noteEnd, noteProgress } from './backgroundJobs'
import type { RefoldJob } from './queue'

const VISITORS_AT_A_TIME = 1000

/**
 * Brings an experiment's numbers in line with what was changed, portion by portion, each in a transaction of its own.
 * Between the portions new events are folded as ever. Until all is done, the sheet says so, and no look and no summary
 * are stored. It cannot be canceled: whatever breaks, it begins again, and what was brought in line stays so.
 */
export async function refoldExperiment(database: Database, job: RefoldJob): Promise<void> {
  const { siteId, experimentId } = job
  const added = await addedMetrics(database, job)
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
      if (ids.length > 0) await renewNumbers(client, siteId, experimentId, ids, added)
      return ids
    })
    if (visitors.length === 0) {
      await inTransaction(database.$client, async (client) => {
        await client.query(NOTE_SUMMARIES_DUE, [siteId, [experimentId]])
      })
      await noteEnd(database, job, 'done')
      return refreshDueSummaries(database, new Date())
    }
    done += visitors.length
    last = visitors.at(-1)!
  }
}

/** Versions of metrics that are measured for the first time. */
async function addedMetrics(database: Database, { siteId, jobId }: RefoldJob): Promise<number[]> {
  const [found] = await database
    .select({ added: backgroundJob.added })
    .from(backgroundJob)
    .where(and(eq(backgroundJob.siteId, siteId), eq(backgroundJob.id, jobId)))
  return found?.added ?? []
}

async function countExposed(database: Database, siteId: number, experimentId: number): Promise<number> {
  const [found] = await database
    .select({ visitors: sql<number>`count(*)::int` })
    .from(exposure)
    .where(and(eq(exposure.siteId, siteId), eq(exposure.experimentId, experimentId)))
  return found?.visitors ?? 0
}
