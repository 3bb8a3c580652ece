import { and, eq, isNull, sql } from 'drizzle-orm'
import { mixedMoments, weightedMoments } from '../../../core/allocation/period'
import { nextShares, type NextShares } from '../../../core/allocation/nextShares'
import { LEAST_SHARE } from '../../../core/sheet/content'
import { VALUES_OF_KIND } from '../../../core/statistics/estimate'
import { firstValues } from '../../../core/statistics/moments'
import { wholeDays } from '../../../core/time/siteDay'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Database, Queries } from '../../database/connect'
import { allocationPeriod, experiment } from '../../database/schema'
import { announce } from '../../news/announce'
import { recordChange } from '../changes'
import { lockSheet, type Target } from '../experiments/sheet'
import { readStatistics, type ExperimentStatistics } from '../results/readStatistics'
import { storedSummaries } from '../results/summaries'
import { compileSiteFile } from '../sites/compileSiteFile'

/** Browsers count weights in ten-thousandths. */
const STEPS = 10_000

/** The first period: the weights as they were set. */
export async function beginPeriods(tx: Queries, sheet: ExperimentSheet, now: Date): Promise<void> {
  const weights = sheet.variants.map(({ weight }) => weight)
  await tx
    .insert(allocationPeriod)
    .values({ siteId: sheet.siteId, experimentId: sheet.id, period: 0, since: now, weights, chances: null })
}

/** Begins the next period of every running experiment whose split moves and whose period is over. */
export async function moveSplits(database: Database, now: Date): Promise<void> {
  const running = await database
    .select({ siteId: experiment.siteId, experimentId: experiment.id })
    .from(experiment)
    .where(
      and(eq(experiment.state, 'running'), isNull(experiment.deletedAt), sql`${experiment.plan}->>'split' = 'moving'`),
    )
  const failures: unknown[] = []
  for (const each of running)
    await moveSplit(database, { ...each, personId: null }, now).catch((error: unknown) => failures.push(error))
  if (failures.length > 0) throw failures[0]
}

async function moveSplit(database: Database, target: Target, now: Date): Promise<void> {
  await database.transaction(async (tx) => {
    const sheet = await lockSheet(tx, target)
    const latest = sheet.periods.at(-1)
    if (sheet.state !== 'running' || !latest) return
    const statistics = (await readStatistics(tx, target.siteId, [sheet], now)).get(target.experimentId)!
    if (!isOver(sheet, statistics, now)) return
    // What may be broken is not followed.
    const summary = (await storedSummaries(tx, target.siteId, [sheet.id])).get(sheet.id)
    if (summary?.verdict?.kind === 'distrust') return
    const next = nextOf(sheet, statistics)
    if (next) await beginPeriod(tx, target, sheet, next, now)
  })
}

/** Whether another day of the run is over since the period began, or as many visitors have come as the plan says. */
function isOver(
  { plan, periods, startedAt, timeZone }: ExperimentSheet,
  statistics: ExperimentStatistics,
  now: Date,
): boolean {
  const latest = periods.at(-1)!
  const batch = plan.batchVisitors ?? null
  const daysBy = (at: number) => wholeDays(Date.parse(startedAt!), at, timeZone)
  if (batch === null) return daysBy(now.getTime()) > daysBy(Date.parse(latest.since))
  return (statistics.periods.at(-1)?.visitors ?? []).reduce((sum, count) => sum + count, 0) >= batch
}

function nextOf(
  { plan, metrics }: ExperimentSheet,
  { periods, metrics: whole }: ExperimentStatistics,
): NextShares | null {
  const primary = metrics.findIndex(({ role }) => role === 'primary')
  if (primary < 0) return null
  const { kind, direction } = metrics[primary]!
  const size = VALUES_OF_KIND[kind]
  const counted = periods.map(({ shares, metrics: own }) => ({
    shares,
    arms: own[primary]!.moments.map((moments) => firstValues(moments, size)),
  }))
  const active = whole[primary]!.active.reduce((sum, count) => sum + count, 0)
  return nextShares(
    weightedMoments(counted),
    mixedMoments(counted, size),
    active,
    plan.leastShare ?? LEAST_SHARE,
    direction,
  )
}

async function beginPeriod(
  tx: Queries,
  { siteId, experimentId }: Target,
  sheet: ExperimentSheet,
  { shares, chances }: NextShares,
  now: Date,
): Promise<void> {
  const weights = shares.map((share) => Math.round(share * STEPS))
  await tx
    .insert(allocationPeriod)
    .values({ siteId, experimentId, period: sheet.periods.length, since: now, weights, chances })
  await tx
    .update(experiment)
    .set({ version: sheet.version + 1 })
    .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
  await recordChange(tx, {
    siteId,
    personId: null,
    subject: 'experiment',
    subjectId: experimentId,
    action: 'changed',
    at: now,
    before: { shares: sheet.periods.at(-1)!.shares },
    after: { shares },
    words: `Split of new visitors: ${inWords(sheet.periods.at(-1)!.shares)} became ${inWords(shares)}, as the plan lets it move`,
  })
  await compileSiteFile(tx, siteId)
  await announce(tx, siteId, { kind: 'sheet', experiment: experimentId, version: sheet.version + 1 })
}

function inWords(shares: readonly number[]): string {
  return shares.map((share) => `${Math.round(share * 1000) / 10} %`).join(' / ')
}
