import { checkAllocation } from '../statistics/allocation'
import { benjaminiHochberg } from '../statistics/benjaminiHochberg'
import { compareArms, type Comparison, type DifferenceEstimate, type LiftEstimate } from '../statistics/compareArms'
import { estimateArm, type ArmEstimate, type MetricKind } from '../statistics/estimate'
import { factorialEffects, type Factor, type FactorialReading } from '../statistics/factorial'
import { heterogeneity, type Heterogeneity } from '../statistics/heterogeneity'
import { holm } from '../statistics/holm'
import { logLift } from '../statistics/logLift'
import type { Moments } from '../statistics/moments'
import { posteriorOf, probabilityBest, type Direction, type LiftPrior, type Posterior } from '../statistics/posterior'
import { shortfallOf, type ArmShape, type Shortfall } from '../statistics/shortfall'
import { adjustForCovariate, compareAdjusted, type VarianceReduction } from '../statistics/varianceReduction'
import type { PlannedReading } from '../verdict/plannedLooks'

export type MetricRole = 'primary' | 'secondary' | 'guardrail'

/** One metric with its sufficient statistics. */
export interface MeasuredMetric {
  name: string
  kind: MetricKind
  role: MetricRole
  direction: Direction
  /** Moments of each arm, the control first: the metric's values and, where there is one, the covariate last. */
  arms: readonly Moments[]
  hasCovariate: boolean
  /** Whether its comparisons are those after the adjustment by the covariate, as its plan fixed it before the start. */
  isAdjusted?: boolean
  /** Whether the moments are those of a run whose weights moved, with its periods taken apart (see `weightedMoments`). */
  isWeighted?: boolean
  /** Of each arm, what tells whether it is near enough to normal to be read; left out where that is not asked. */
  shapes?: readonly ArmShape[]
  /** By segment and its value, the moments of each arm. */
  segments?: Readonly<Record<string, Readonly<Record<string, readonly Moments[]>>>>
  /** By combination of the factors' levels. */
  cells?: readonly { levels: readonly string[]; moments: Moments }[]
}

export interface AnalysisInput {
  /** Names, the control first. */
  arms: readonly string[]
  weights: readonly number[]
  /** Visitors of each arm. */
  visitors: readonly number[]
  /** Two-sided error level of every interval. */
  alpha: number
  /** Visitors the plan expects in all arms together at its end. */
  plannedVisitors: number
  metrics: readonly MeasuredMetric[]
  factors?: readonly Factor[]
  liftPrior?: LiftPrior
}

export interface SegmentReading {
  visitors: number
  difference: DifferenceEstimate
  lift: LiftEstimate
  pValue: number | null
  adjustedPValue: number | null
}

export interface VariantComparison extends Comparison {
  variant: string
  /** Holm over the variants for the primary metric, Benjamini–Hochberg over variants and metrics for secondary ones, raw for guardrails. */
  adjustedPValue: number | null
  /** What is missing before its intervals may be read; null where nothing is. */
  shortfall: Shortfall | null
  /** Of the primary metric where the plan spends its error until its end: its latest look; null before the first. */
  planned?: PlannedReading | null
  varianceReduction?: VarianceReduction
  /** Without the adjustment, where the comparison is an adjusted one: for one look. */
  unadjusted?: Pick<Comparison, 'lift' | 'difference' | 'pValue'>
  segments?: Record<string, { values: Record<string, SegmentReading>; heterogeneity: Heterogeneity }>
}

export interface MetricAnalysis {
  name: string
  kind: MetricKind
  role: MetricRole
  direction: Direction
  arms: Record<string, ArmEstimate>
  /** What arms are compared by after the adjustment; null where nothing is adjusted. */
  adjustedArms: Record<string, ArmEstimate> | null
  comparisons: VariantComparison[]
  /** Null for all while an arm has no estimate. */
  probabilityBest: Record<string, number | null>
  factorial?: FactorialReading
}

export interface Analysis {
  visitors: number
  allocation: {
    observed: Record<string, number>
    expected: Record<string, number>
    chiSquare: number
    degreesOfFreedom: number
    pValue: number
    sequentialPValue: number
    alarm: boolean
  }
  metrics: MetricAnalysis[]
}

/**
 * Everything that the sufficient statistics of an experiment say, by every method.
 *
 * @param input - arms, weights, error level and metrics with their moments
 * @returns readings for each metric; a number that the data cannot give is null, with the reason in `why` beside it
 * @throws RangeError for weights that are not above zero
 */
export function analyze(input: AnalysisInput): Analysis {
  const { arms, weights, visitors } = input
  const named = (numbers: readonly number[]) => Object.fromEntries(arms.map((arm, index) => [arm, numbers[index]!]))
  const { observed, expected, ...check } = checkAllocation(visitors, weights)
  return {
    visitors: visitors.reduce((sum, count) => sum + count, 0),
    allocation: { observed: named(observed), expected: named(expected), ...check },
    metrics: adjustAcrossMetrics(input.metrics.map((metric) => analyzeMetric(metric, input))),
  }
}

function analyzeMetric(metric: MeasuredMetric, input: AnalysisInput): MetricAnalysis {
  const { name, kind, role, direction } = metric
  const estimates = metric.arms.map((arm) =>
    estimateArm(metric.isWeighted && kind === 'conversion' ? 'mean' : kind, arm),
  )
  const adjustment = metric.hasCovariate ? adjustForCovariate(kind, metric.arms) : null
  const adjusted =
    metric.isAdjusted && adjustment && !adjustment.why ? adjustment.arms.map((arm) => arm.adjusted) : null
  const compared = adjusted ?? estimates
  // Such a rate is no share of visitors any more: like a ratio it is compared by z, with a normal posterior.
  const comparedKind = metric.isWeighted || (adjusted && kind === 'conversion') ? 'ratio' : kind
  const comparisons = input.arms.slice(1).map((variant, index): VariantComparison => {
    const position = index + 1
    return {
      variant,
      ...compareArms(compared[0]!, compared[position]!, planFor(metric, input, position, comparedKind)),
      adjustedPValue: null,
      shortfall: metric.shapes ? shortfallOf(kind, metric.shapes[0]!, metric.shapes[position]!) : null,
      ...(adjustment ? { varianceReduction: compareAdjusted(kind, adjustment, 0, position, input.alpha) } : {}),
      ...(adjusted ? { unadjusted: unadjustedOf(metric, estimates, input, position) } : {}),
      ...(metric.segments ? { segments: readSegments(metric, input, position) } : {}),
    }
  })
  return {
    name,
    kind,
    role,
    direction,
    arms: Object.fromEntries(input.arms.map((arm, index) => [arm, estimates[index]!])),
    adjustedArms: adjusted && Object.fromEntries(input.arms.map((arm, index) => [arm, adjusted[index]!])),
    comparisons,
    probabilityBest: bestOf({ kind: comparedKind, direction }, compared, input.arms),
    ...(metric.cells && input.factors
      ? {
          factorial: factorialEffects(
            input.factors,
            metric.cells.map(({ levels, moments }) => ({ levels, estimate: estimateArm(kind, moments) })),
            input.alpha,
            direction,
          ),
        }
      : {}),
  }
}

function visitorsOf(arms: readonly Moments[]): number {
  return arms.reduce((sum, { count }) => sum + count, 0)
}

function unadjustedOf(
  metric: MeasuredMetric,
  estimates: readonly ArmEstimate[],
  input: AnalysisInput,
  position: number,
): VariantComparison['unadjusted'] {
  const { lift, difference, pValue } = compareArms(
    estimates[0]!,
    estimates[position]!,
    planFor(metric, input, position),
  )
  return { lift, difference, pValue }
}

function planFor(
  { kind: own, direction, isWeighted, arms }: MeasuredMetric,
  { weights, alpha, plannedVisitors, liftPrior }: AnalysisInput,
  position: number,
  kind: MetricKind = own,
) {
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const planned = (arm: number) => Math.max(1, (plannedVisitors * weights[arm]!) / total)
  return {
    kind,
    direction,
    alpha,
    plannedVisitors: { control: planned(0), variant: planned(position) },
    ...(isWeighted ? { share: visitorsOf(arms) / Math.max(1, plannedVisitors) } : {}),
    ...(liftPrior ? { liftPrior } : {}),
  }
}

function bestOf(
  { kind, direction }: Pick<MeasuredMetric, 'kind' | 'direction'>,
  estimates: readonly ArmEstimate[],
  arms: readonly string[],
): Record<string, number | null> {
  const posteriors = estimates.map((estimate) => posteriorOf(kind, estimate))
  const known = posteriors.filter((posterior): posterior is Posterior => posterior !== null)
  const best = known.length === posteriors.length ? probabilityBest(known, direction) : null
  return Object.fromEntries(arms.map((arm, index) => [arm, best?.[index] ?? null]))
}

/**
 * Lift within each value of each segment; adjusted over all values of all segments of this comparison. Whether the values
 * differ is asked of their lifts, as they are shown: equal lifts of unequal rates have unequal differences.
 */
function readSegments(metric: MeasuredMetric, input: AnalysisInput, position: number): VariantComparison['segments'] {
  const plan = planFor(metric, input, position)
  const read = Object.entries(metric.segments!).map(([segment, values]) => ({
    segment,
    logLifts: Object.values(values).map((arms) =>
      logLift(estimateArm(metric.kind, arms[0]!), estimateArm(metric.kind, arms[position]!)),
    ),
    readings: Object.entries(values).map(([value, arms]): [string, SegmentReading] => {
      const [control, variant] = [estimateArm(metric.kind, arms[0]!), estimateArm(metric.kind, arms[position]!)]
      const { difference, lift, pValue } = compareArms(control, variant, plan)
      return [value, { visitors: control.visitors + variant.visitors, difference, lift, pValue, adjustedPValue: null }]
    }),
  }))
  adjustInPlace(
    read.flatMap(({ readings }) => readings.map(([, reading]) => reading)),
    benjaminiHochberg,
  )
  return Object.fromEntries(
    read.map(({ segment, readings, logLifts }) => [
      segment,
      {
        values: Object.fromEntries(readings),
        heterogeneity: heterogeneity(logLifts),
      },
    ]),
  )
}

function adjustAcrossMetrics(metrics: MetricAnalysis[]): MetricAnalysis[] {
  for (const metric of metrics) {
    if (metric.role === 'primary') adjustInPlace(metric.comparisons, holm)
    if (metric.role === 'guardrail') adjustInPlace(metric.comparisons, (pValues) => [...pValues])
  }
  adjustInPlace(
    metrics.filter(({ role }) => role === 'secondary').flatMap(({ comparisons }) => comparisons),
    benjaminiHochberg,
  )
  return metrics
}

/** Writes adjusted p-values beside the raw ones; comparisons without a p-value are no part of the family. */
function adjustInPlace(
  family: { pValue: number | null; adjustedPValue: number | null }[],
  adjust: (pValues: number[]) => number[],
): void {
  const tested = family.filter((each) => each.pValue !== null)
  const adjusted = adjust(tested.map((each) => each.pValue!))
  tested.forEach((each, index) => (each.adjustedPValue = adjusted[index]!))
}
