import { and, inArray, isNull } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { experiment } from '../../database/schema'
import { foldNews, type FoldLimits } from './fold'
import { NOTE_SUMMARIES_DUE, SUMMARIES_DUE, SUMMARY_DONE } from './queries'
import { refreshSummaries } from './summaries'

/**
 * Folds what is new, and brings the summaries and looks of what has changed up to date.
 *
 * @throws AggregateError of what went wrong on single sites, after all others had their turn
 */
export async function foldAndSummarize(database: Database, now = new Date(), limits: FoldLimits = {}): Promise<void> {
  const failures: unknown[] = []
  await foldNews(database.$client, limits).catch((error: unknown) => failures.push(error))
  await refreshDueSummaries(database, now).catch((error: unknown) => failures.push(error))
  if (failures.length === 1) throw failures[0]
  if (failures.length > 1) throw new AggregateError(failures, 'Not everything could be folded and summarized.')
}

/** Brings the summaries of everything that runs up to date: verdicts depend on the time that has passed. */
export async function refreshRunning(database: Database, now = new Date()): Promise<void> {
  const running = await database
    .select({ siteId: experiment.siteId, id: experiment.id })
    .from(experiment)
    .where(and(inArray(experiment.state, ['running', 'paused']), isNull(experiment.deletedAt)))
  for (const { siteId, id } of running) await database.$client.query(NOTE_SUMMARIES_DUE, [siteId, [id]])
  await refreshDueSummaries(database, now)
}

/** Computes the summaries that are due. An experiment whose summary cannot be computed stops no other. */
export async function refreshDueSummaries(database: Database, now: Date): Promise<void> {
  const { rows } = await database.$client.query<{ site: number; experiment: number; times: number }>(SUMMARIES_DUE)
  const failures: unknown[] = []
  for (const { site, experiment: id, times } of rows) {
    await refreshSummaries(database, site, [id], now)
      .then(() => database.$client.query(SUMMARY_DONE, [site, id, times]))
      .catch((error: unknown) => failures.push(error))
  }
  if (failures.length > 0) throw new AggregateError(failures, 'Not every experiment could be summarized.')
}
