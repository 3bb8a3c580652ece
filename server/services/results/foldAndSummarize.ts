import { and, inArray, isNull } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { experiment } from '../../database/schema'
import { foldNews } from './fold'
import { refreshSummaries } from './summaries'

/** Folds what is new, and brings the summaries and looks of what has changed up to date. */
export async function foldAndSummarize(database: Database, now = new Date()): Promise<void> {
  for (const { siteId, experiments } of await foldNews(database.$client)) {
    await refreshSummaries(database, siteId, [...experiments], now)
  }
}

/** Brings the summaries of everything that runs up to date. */
export async function refreshRunning(database: Database, now = new Date()): Promise<void> {
  const running = await database
    .select({ siteId: experiment.siteId, id: experiment.id })
    .from(experiment)
    .where(and(inArray(experiment.state, ['running', 'paused']), isNull(experiment.deletedAt)))
  const sites = new Set(running.map(({ siteId }) => siteId))
  for (const siteId of sites) {
    const ids = running.filter((each) => each.siteId === siteId).map(({ id }) => id)
    await refreshSummaries(database, siteId, ids, now)
  }
}
