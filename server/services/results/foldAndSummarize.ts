import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import type { Database } from '../../database/connect'
import { SUMMARY_LOCK } from '../../database/locks'
import { experiment, summaryDue } from '../../database/schema'
import { foldNews, type FoldLimits } from './fold'
import { NOTE_SUMMARIES_DUE, SUMMARIES_DUE } from './queries'
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

/**
 * Computes the summaries that are due, each in one process only, and whole or not at all. An experiment whose summary
 * cannot be computed stops no other.
 */
export async function refreshDueSummaries(database: Database, now: Date): Promise<void> {
  const { rows } = await database.$client.query<SummaryDue>(SUMMARIES_DUE)
  const failures: unknown[] = []
  for (const due of rows) await refreshDueSummary(database, due, now).catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw new AggregateError(failures, 'Not every experiment could be summarized.')
}

interface SummaryDue {
  site: number
  experiment: number
  /** How often it has become due: it stays so where that happens once more in the meantime. */
  times: number
}

function refreshDueSummary(database: Database, due: SummaryDue, now: Date): Promise<void> {
  const { site, experiment: id } = due
  return database.transaction(async (tx) => {
    await tx.execute(sql`SELECT pg_advisory_xact_lock(${SUMMARY_LOCK}, ${id})`)
    // Another process may have computed it, and it may have become due again.
    if ((await tx.$count(summaryDue, isDue(due))) === 0) return
    await refreshSummaries(tx, site, [id], now)
    // At the end, so that the fold does not wait for it.
    await tx.delete(summaryDue).where(isDue(due))
  })
}

const isDue = ({ site, experiment: id, times }: SummaryDue) =>
  and(eq(summaryDue.siteId, site), eq(summaryDue.experimentId, id), eq(summaryDue.times, times))
