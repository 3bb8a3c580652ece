import { and, asc, desc, eq } from 'drizzle-orm'
import { decidedPlan } from '../../../core/sheet/planReading'
import { afterDays, siteDays } from '../../../core/time/siteDay'
import {
  adjustedForStopping,
  dueLook,
  nextLookAfter,
  readPlannedLook,
  takeLook,
  type PlannedLook,
} from '../../../core/verdict/plannedLooks'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { ExperimentResults, MetricResults, PlannedLookView } from '../../../shared/experiments/resultsReplies'
import type { Queries } from '../../database/connect'
import { plannedLook } from '../../database/schema'
import { comparedArms } from './comparedArms'

/** The latest look of the plan at each variant, by its position. */
export type LatestLooks = ReadonlyMap<number, PlannedLook>

type Row = typeof plannedLook.$inferSelect
type Place = Pick<ExperimentSheet, 'siteId' | 'id' | 'plan'>

/** The latest look at each variant; none where the plan takes no looks of its own. */
export async function latestLooks(database: Queries, { siteId, id, plan }: Place): Promise<LatestLooks> {
  if (plan.rule !== 'spending') return new Map()
  const rows = await database
    .selectDistinctOn([plannedLook.variant])
    .from(plannedLook)
    .where(and(eq(plannedLook.siteId, siteId), eq(plannedLook.experimentId, id)))
    .orderBy(asc(plannedLook.variant), desc(plannedLook.daysRun))
  return new Map(rows.map((row) => [row.variant, lookOf(row)]))
}

/**
 * The latest looks with what is adjusted for having stopped there, also where no boundary was crossed.
 *
 * @param latest - of the same moment
 */
export async function stoppedLooks(
  database: Queries,
  { siteId, id, plan, variants }: ExperimentSheet,
  latest: LatestLooks,
): Promise<LatestLooks> {
  if ([...latest.values()].every(({ adjusted }) => adjusted)) return latest
  const rows = await allLooks(database, siteId, id)
  const tested = { alpha: plan.alpha, variants: variants.length - 1 }
  return new Map(
    [...latest].map(([position, look]) => {
      const own = rows.filter(({ variant }) => variant === position).map(lookOf)
      return [position, { ...look, adjusted: look.adjusted ?? adjustedForStopping(own, tested) }]
    }),
  )
}

/** Shares of the planned information at the looks taken so far, by variant. */
export async function sharesOfLooks(
  database: Queries,
  { siteId, id, plan, variants }: ExperimentSheet,
): Promise<number[][]> {
  const rows = plan.rule === 'spending' ? await allLooks(database, siteId, id) : []
  return variants
    .slice(1)
    .map((_, index) => rows.flatMap(({ variant, share }) => (variant === index + 1 ? [share] : [])))
}

/** All looks that a plan took, by variant in their order. */
export async function readPlannedLooks(
  database: Queries,
  siteId: number,
  experimentId: number,
  timeZone: string,
): Promise<PlannedLookView[]> {
  const dayOf = siteDays(timeZone)
  const rows = await allLooks(database, siteId, experimentId)
  return rows.map((row) => ({
    variant: row.variant,
    day: dayOf(row.at.getTime()),
    visitors: [row.controlVisitors, row.visitors],
    ...readPlannedLook(lookOf(row)),
  }))
}

/**
 * Takes the look that is due, if one is: a day is over since the one before. A variant that cannot be read yet is left out.
 *
 * @param results - of the same moment
 * @returns whether a look was taken
 */
export async function takeDueLook(
  database: Queries,
  sheet: ExperimentSheet,
  results: Pick<ExperimentResults, 'metrics' | 'daysRun'>,
  latest: LatestLooks,
  at: Date,
): Promise<boolean> {
  const primary = results.metrics.find(({ metric }) => metric.role === 'primary')
  if (sheet.plan.rule !== 'spending' || !primary) return false
  const run = {
    plan: decidedPlan(sheet.plan),
    daysRun: results.daysRun,
    visitors: primary.arms.reduce((sum, arm) => sum + arm.visitors, 0),
    variants: primary.comparisons.length,
    isMoving: sheet.periods.length > 0,
  }
  const due = dueLook(run, latestOf(latest))
  if (due === null) return false
  const earlier = await allLooks(database, sheet.siteId, sheet.id)
  const rows = readableArms(primary).flatMap(({ position, arms }) => {
    const own = earlier.filter(({ variant }) => variant === position).map(lookOf)
    const taken = takeLook(run, arms, weightsOf(sheet, position), own, due === 'last')
    return taken ? [rowOf(sheet, position, taken, at)] : []
  })
  if (rows.length === 0) return false
  await database.insert(plannedLook).values(rows).onConflictDoNothing()
  return true
}

/** When the next look is due; null where the plan takes none, or none any more. */
export function nextLookAt(
  { plan, state, startedAt, timeZone }: ExperimentSheet,
  daysRun: number,
  latest: LatestLooks,
): Date | null {
  if (plan.rule !== 'spending' || startedAt === null || state === 'ended') return null
  const after = nextLookAfter({ plan: decidedPlan(plan), daysRun }, latestOf(latest))
  return after === null ? null : new Date(afterDays(Date.parse(startedAt), after, timeZone))
}

/** The latest look at any variant. */
function latestOf(latest: LatestLooks): PlannedLook | null {
  return [...latest.values()].sort((a, b) => b.daysRun - a.daysRun)[0] ?? null
}

function allLooks(database: Queries, siteId: number, experimentId: number): Promise<Row[]> {
  return database
    .select()
    .from(plannedLook)
    .where(and(eq(plannedLook.siteId, siteId), eq(plannedLook.experimentId, experimentId)))
    .orderBy(asc(plannedLook.variant), asc(plannedLook.daysRun))
}

/** Each variant that may be read, with the control. */
function readableArms(metric: MetricResults) {
  const arms = comparedArms(metric)
  return metric.comparisons.flatMap(({ shortfall }, index) => {
    const [control, variant] = [arms[0]!, arms[index + 1]!]
    return shortfall || !control || !variant ? [] : [{ position: index + 1, arms: { control, variant } }]
  })
}

function weightsOf({ variants }: ExperimentSheet, position: number) {
  return {
    control: variants[0]!.weight,
    variant: variants[position]!.weight,
    all: variants.reduce((sum, { weight }) => sum + weight, 0),
  }
}

function lookOf(row: Row): PlannedLook {
  const { adjustedLift: lift, adjustedLow: low, adjustedHigh: high } = row
  return {
    daysRun: row.daysRun,
    control: { visitors: row.controlVisitors, mean: row.controlMean, variance: row.controlVariance },
    variant: { visitors: row.visitors, mean: row.mean, variance: row.variance },
    share: row.share,
    bound: row.bound,
    pValue: row.pValue,
    adjusted: lift === null || low === null || high === null ? null : { lift, interval: [low, high] },
    isLast: row.isLast,
  }
}

function rowOf({ siteId, id }: ExperimentSheet, variant: number, look: PlannedLook, at: Date): Row {
  return {
    siteId,
    experimentId: id,
    variant,
    daysRun: look.daysRun,
    at,
    controlVisitors: look.control.visitors,
    visitors: look.variant.visitors,
    controlMean: look.control.mean,
    mean: look.variant.mean,
    controlVariance: look.control.variance,
    variance: look.variant.variance,
    share: look.share,
    bound: look.bound,
    pValue: look.pValue,
    adjustedLift: look.adjusted?.lift ?? null,
    adjustedLow: look.adjusted?.interval[0] ?? null,
    adjustedHigh: look.adjusted?.interval[1] ?? null,
    isLast: look.isLast,
  }
}
