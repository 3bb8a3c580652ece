import type { ExperimentResults, MetricResults } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSheet, ExperimentSummary } from '../../../shared/experiments/replies'
import { eq } from 'drizzle-orm'
import { analyze, type MetricAnalysis, type VariantComparison } from '../../../core/analysis/analysis'
import { allCombinations } from '../../../core/factors/combinations'
import type { SheetFactor } from '../../../core/sheet/content'
import { checkAllocationByPeriod } from '../../../core/allocation/allocationByPeriod'
import { weightedMoments } from '../../../core/allocation/period'
import { checkAllocation, type AllocationCheck } from '../../../core/statistics/allocation'
import { estimateArm, VALUES_OF_KIND, type MetricKind } from '../../../core/statistics/estimate'
import { firstValues } from '../../../core/statistics/moments'
import {
  decisiveMethod,
  differenceIntervalBy,
  liftBy,
  pValueBy,
  type ReadingMethod,
} from '../../../core/analysis/readings'
import { decidedPlan } from '../../../core/sheet/planReading'
import type { Interval } from '../../../core/statistics/compareArms'
import { holm } from '../../../core/statistics/holm'
import { findUnsoundness, type SoundnessFinding } from '../../../core/statistics/soundness'
import { dayAfter, daysFrom, siteDays, wholeDays } from '../../../core/time/siteDay'
import { readPlannedLook, type PlannedLook, type PlannedReading } from '../../../core/verdict/plannedLooks'
import { standingVerdict } from '../../../core/verdict/reachedVerdict'
import {
  verdict,
  type Effect,
  type ExperimentState,
  type GuardrailState,
  type Verdict,
  type VariantState,
} from '../../../core/verdict/verdict'
import type { CountedMetric } from '../../../core/traffic/crowd'
import type { Queries } from '../../database/connect'
import { foldCursor } from '../../database/schema'
import { armView } from './armView'
import { decisiveLift } from './decisiveReading'
import { readIntakeNotes, type IntakeNotes } from './intakeNotes'
import { readTerms } from '../hypotheses/terms'
import { moneyOfLift } from './moneyOfLift'
import { latestLooks, nextLookAt, sharesOfLooks, stoppedLooks, type LatestLooks } from './plannedLooks'
import { readOutlook } from './readOutlook'
import { readReachedVerdict } from './reachedVerdicts'
import { readStatistics, type ExperimentStatistics } from './readStatistics'

/** The results of an experiment, from its sufficient statistics alone. */
export async function experimentResults(
  database: Queries,
  sheet: ExperimentSheet,
  now: Date,
): Promise<ExperimentResults> {
  const statistics = (await readStatistics(database, sheet.siteId, [sheet], now)).get(sheet.id)!
  const notes = await readIntakeNotes(database, sheet)
  const [cursor] = await database.select().from(foldCursor).where(eq(foldCursor.siteId, sheet.siteId))
  const latest = await latestLooks(database, sheet)
  const looks = sheet.state === 'ended' ? await stoppedLooks(database, sheet, latest) : latest
  const results = readResults(sheet, statistics, notes, now, looks)
  const reached = await readReachedVerdict(database, sheet.siteId, sheet.id)
  const { unitValues } = await readTerms(database, sheet.siteId)
  const standing = standingVerdict(results.verdict, reached)
  return {
    ...results,
    ...standing,
    outlook: readOutlook(
      sheet,
      results,
      standing.verdict,
      wholeDaysOf(sheet, statistics, now),
      await sharesOfLooks(database, sheet),
    ),
    money: moneyOfLift(sheet, results, unitValues, now),
    nextLookAt: nextLookAt(sheet, results.daysRun, looks)?.toISOString() ?? null,
    foldedAt: cursor?.foldedAt?.toISOString() ?? null,
  }
}

/** The best variant of the primary metric, with its lift by the plan's rule. */
export function bestVariant(
  sheet: ExperimentSheet,
  { metrics: [primary] }: Pick<ExperimentResults, 'metrics'>,
): ExperimentSummary['best'] {
  if (!primary) return null
  const candidates = primary.comparisons
    .map((comparison, index) => {
      const { estimate, interval } = decisiveLift(sheet, comparison)
      return { variant: sheet.variants[index + 1]!.name, position: index + 1, lift: estimate, interval }
    })
    .filter(({ lift }) => lift !== null)
  const sign = primary.metric.direction === 'down' ? -1 : 1
  return candidates.sort((a, b) => sign * (b.lift! - a.lift!))[0] ?? null
}

/** What the numbers of a moment say by themselves. */
export type ReadResults = Omit<ExperimentResults, 'foldedAt' | 'reached' | 'since' | 'money' | 'outlook' | 'nextLookAt'>

/**
 * What the statistics of an experiment say at a moment.
 *
 * @param looks - that the plan took, where it spends its error until its end: the verdict is theirs
 */
export function readResults(
  sheet: ExperimentSheet,
  statistics: ExperimentStatistics,
  notes: IntakeNotes,
  now: Date,
  looks: LatestLooks,
): ReadResults {
  const visitors = statistics.visitors.reduce((sum, count) => sum + count, 0)
  const isOver = sheet.endedAt !== null && Date.parse(sheet.endedAt) <= now.getTime()
  const until = isOver ? new Date(sheet.endedAt!) : now
  const daysRun = sheet.startedAt ? wholeDays(Date.parse(sheet.startedAt), until.getTime(), sheet.timeZone) : 0
  const allocation = allocationOf(sheet, statistics)
  const metrics = allocation ? readMetrics(sheet, statistics, looks) : []
  const soundness = findUnsoundness({
    allocation,
    visitors,
    ...notes,
    counted: countedMetric(sheet, metrics),
    crossed: statistics.crossed,
    days: wholeDaysOf(sheet, statistics, until),
    arms: sheet.variants.map(({ name }, position) => ({
      name,
      visitors: statistics.visitors[position]!,
      active: Math.max(0, ...statistics.metrics.map(({ active }) => active[position]!)),
    })),
  })
  const primary = metrics.find(({ metric }) => metric.role === 'primary')
  // What is decided by is the visitors whose observation window is over.
  const counted = primary ? primary.arms.reduce((sum, arm) => sum + arm.visitors, 0) : visitors
  return {
    arms: sheet.variants.map(({ name }, position) => ({ name, visitors: statistics.visitors[position]! })),
    visitors,
    crossed: statistics.crossed,
    daysRun,
    allocation,
    metrics,
    periods: periodViews(sheet, statistics),
    soundness,
    verdict: sheet.startedAt
      ? readVerdict(sheet, metrics, { unsound: reasonsForDistrust(soundness), daysRun, visitors: counted, isOver })
      : null,
  }
}

function periodViews({ metrics }: ExperimentSheet, { periods }: ExperimentStatistics): ExperimentResults['periods'] {
  const primary = metrics.findIndex(({ role }) => role === 'primary')
  return periods.map(({ visitors, metrics: own }) => ({
    visitors,
    means: visitors.map((_, arm) => {
      const moments = own[primary]?.moments[arm]
      return moments && moments.count > 0 ? estimateArm(metrics[primary]!.kind, moments).mean : null
    }),
  }))
}

/** Whether the arms have the visitors that their weights promise; null where they are not to be compared. */
export function allocationOf(
  { startedAt, variants }: ExperimentSheet,
  { visitors, periods }: ExperimentStatistics,
): AllocationCheck | null {
  const isSplit = startedAt !== null && variants.length > 1 && variants.every(({ weight }) => weight > 0)
  if (!isSplit) return null
  return periods.length > 0
    ? checkAllocationByPeriod(periods)
    : checkAllocation(
        visitors,
        variants.map(({ weight }) => weight),
      )
}

/** The primary metric as crowds are counted in it; of a ratio they are not. */
function countedMetric(sheet: ExperimentSheet, metrics: readonly MetricResults[]): CountedMetric | null {
  const primary = metrics.find(({ metric }) => metric.role === 'primary')
  if (!primary || primary.metric.kind === 'ratio') return null
  return {
    name: primary.metric.name,
    arms: primary.arms.map(({ visitors, sum }, index) => ({ name: sheet.variants[index]!.name, visitors, sum })),
  }
}

function reasonsForDistrust(soundness: readonly SoundnessFinding[]): string[] {
  const breaking = soundness.filter(({ isBreaking }) => isBreaking)
  const hasCause = breaking.some(({ kind }) => kind !== 'computing')
  return [...breaking.map(({ text }) => text), ...(hasCause ? ['Find the cause before reading any result.'] : [])]
}

/** What the metrics of a sheet say. Arms go by their positions here: names are the team's to change. */
export function readMetrics(
  sheet: ExperimentSheet,
  { visitors, metrics, periods }: ExperimentStatistics,
  looks: LatestLooks,
): MetricResults[] {
  const combinations = allCombinations(sheet.factors, sheet.combinationsOff)
    .filter(({ isOn }) => isOn)
    .map(({ levels }) => levels.map(({ name }) => name))
  const isMoving = periods.length > 0
  const comparedMoments = (index: number, kind: MetricKind) =>
    isMoving
      ? weightedMoments(
          periods.map((period) => ({
            shares: period.shares,
            arms: period.metrics[index]!.moments.map((moments) => firstValues(moments, VALUES_OF_KIND[kind])),
          })),
        )
      : metrics[index]!.moments
  const analysis = analyze({
    arms: sheet.variants.map((_, position) => String(position)),
    weights: sheet.variants.map(({ weight }) => weight),
    visitors,
    alpha: sheet.plan.alpha,
    // A draft has no visitors, and no reading either.
    plannedVisitors: sheet.plan.plannedVisitors ?? 2,
    metrics: sheet.metrics.map(({ name, kind, role, direction }, index) => ({
      name,
      kind,
      role,
      direction,
      arms: comparedMoments(index, kind),
      // What moves with the data is not adjusted by the past as well.
      hasCovariate: !isMoving && metrics[index]!.hasCovariate,
      isWeighted: isMoving,
      isAdjusted: role === 'primary' && sheet.expectation !== null,
      shapes: metrics[index]!.shapes,
      cells: combinations.map((levels, position) => ({ levels, moments: metrics[index]!.moments[position]! })),
    })),
    ...(sheet.factors.length > 1 ? { factors: sheet.factors.map(namedLevels) } : {}),
  })
  return analysis.metrics.map((read, index) => {
    const { moments, withPast } = metrics[index]!
    return {
      metric: sheet.metrics[index]!,
      arms: sheet.variants.map((_, position) => armView(read.kind, moments[position]!, read.arms[position]!)),
      adjusted: read.adjustedArms && Object.values(read.adjustedArms).map(({ mean, variance }) => ({ mean, variance })),
      comparisons: decided(sheet, read, looks),
      probabilityBest: sheet.variants.map((_, position) => read.probabilityBest[position] ?? null),
      withPast,
      factorial: read.factorial ?? null,
    }
  })
}

function namedLevels({ name, levels }: SheetFactor): { name: string; levels: string[] } {
  return { name, levels: levels.map((level) => level.name) }
}

/** The primary metric's adjusted p-values are those that the plan's rule decides by. */
function decided(
  { plan: { rule } }: ExperimentSheet,
  { role, comparisons }: MetricAnalysis,
  looks: LatestLooks,
): VariantComparison[] {
  if (role !== 'primary' || rule === 'fixed') return comparisons
  const read =
    rule === 'spending'
      ? comparisons.map((comparison, index) => ({ ...comparison, planned: plannedReading(looks.get(index + 1)) }))
      : comparisons
  const pValues = read.map((comparison) => pValueBy(comparison, decisiveMethod(rule)))
  const adjusted = holm(pValues.map((pValue) => pValue ?? 1))
  return read.map((comparison, index) => ({
    ...comparison,
    adjustedPValue: pValues[index] === null ? null : adjusted[index]!,
  }))
}

function plannedReading(look: PlannedLook | undefined): PlannedReading | null {
  return look ? readPlannedLook(look) : null
}

function readVerdict(
  sheet: ExperimentSheet,
  metrics: readonly MetricResults[],
  state: Omit<ExperimentState, 'variants'>,
): Verdict | null {
  const primary = metrics.find(({ metric }) => metric.role === 'primary')
  const variants = (primary?.comparisons ?? []).map((comparison, index): VariantState => {
    const controlMean = primary!.arms[0]!.mean
    const loss = comparison.posterior.expectedLoss
    return {
      name: sheet.variants[index + 1]!.name,
      ...effectOf(comparison, decisiveMethod(sheet.plan.rule), primary!.metric.direction, controlMean),
      adjustedPValue: comparison.adjustedPValue ?? 1,
      relativeLoss: loss !== null && controlMean !== null && controlMean > 0 ? loss / controlMean : null,
      guardrails: guardrailsOf(sheet, metrics, index),
    }
  })
  const isLastLook = primary?.comparisons.some(({ planned }) => planned?.isLast) ?? false
  const read = verdict(decidedPlan(sheet.plan), { ...state, isLastLook, variants })
  // Nothing waits to be decided of a personalization: it is told where its numbers are unsound, or a guardrail is harmed.
  return sheet.purpose === 'test' || read.kind === 'distrust' || read.kind === 'harm' ? read : null
}

/** Guardrails are looked at every day, so their intervals are always valid, whatever the plan's rule. */
function guardrailsOf(sheet: ExperimentSheet, metrics: readonly MetricResults[], index: number): GuardrailState[] {
  return metrics.flatMap(({ metric, arms, comparisons }) => {
    if (metric.role !== 'guardrail' || metric.limit === null) return []
    const { name, limit, direction } = metric
    return [{ name, limit, ...effectOf(comparisons[index]!, 'sequential', direction, arms[0]!.mean) }]
  })
}

/** A metric's effect by one reading, with its signs turned so that more is better. */
function effectOf(
  comparison: VariantComparison,
  reading: Exclude<ReadingMethod, 'bayesian'>,
  direction: 'up' | 'down',
  controlMean: number | null,
): Effect & { lift: number | null } {
  const lift = liftBy(comparison, reading)
  const turned = (interval: Interval | null): Interval | null =>
    interval && (direction === 'up' ? interval : [-interval[1], -interval[0]])
  return {
    lift: lift.estimate === null || direction === 'up' ? lift.estimate : -lift.estimate,
    shortfall: comparison.shortfall,
    liftInterval: turned(lift.interval),
    differenceInterval: turned(differenceIntervalBy(comparison, reading)),
    controlMean,
  }
}

/** Visitors of each whole day of a run that is over. */
export function wholeDaysOf(
  { startedAt, timeZone }: ExperimentSheet,
  { days }: ExperimentStatistics,
  until: Date,
): { day: string; visitors: number }[] {
  if (!startedAt) return []
  return daysBetween(new Date(startedAt), until, timeZone).map((day) => ({ day, visitors: days.get(day) ?? 0 }))
}

/** Whole days of a run that are over; the first and the last, which may be short, are left out. */
function daysBetween(start: Date, end: Date, timeZone: string): string[] {
  const dayOf = siteDays(timeZone)
  return daysFrom(dayAfter(dayOf(start.getTime())), dayAfter(dayOf(end.getTime()), -1))
}
