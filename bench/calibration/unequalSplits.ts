import type { Draws } from '../../core/random/draws'
import { sequentialReading } from '../../core/statistics/compareArms'
import { estimateArm, type MetricKind } from '../../core/statistics/estimate'
import { holm } from '../../core/statistics/holm'
import { mergeMoments, noMoments, type Moments } from '../../core/statistics/moments'
import { armShape, shortfallOf, type ThirdSums } from '../../core/statistics/shortfall'
import { decide, type DecisionPlan, type VariantState, type VerdictKind } from '../../core/verdict/verdict'
import type { Check } from './checks'
import { drawAmounts, drawConversions, type DrawnVisitors } from './populations'

const ALPHA = 0.05
const A_DAY = 1000
const LEAST_DAYS = 14
/** What a guardrail may lose before it is harmed. */
const LIMIT = 0.05

interface DrawnMetric {
  name: string
  kind: Exclude<MetricKind, 'ratio'>
  draw: (visitors: number, draws: Draws) => DrawnVisitors
}

const METRICS: readonly DrawnMetric[] = [
  ...[0.01, 0.05, 0.3].map((rate): DrawnMetric => ({
    name: `conversions of ${rate * 100} %`,
    kind: 'conversion',
    draw: (visitors, draws) => drawConversions(visitors, rate, draws),
  })),
  ...[0.6, 1, 1.5].map((deviation): DrawnMetric => ({
    name: `amounts of 5 % buyers, logarithms with a deviation of ${deviation}`,
    kind: 'mean',
    draw: (visitors, draws) => drawAmounts(visitors, { buyers: 0.05, logDeviation: deviation }, draws),
  })),
]
/** Shares of the control and of all variants together. */
const SPLITS = [
  [50, 50],
  [80, 20],
  [90, 10],
  [10, 90],
] as const
const ARMS = [2, 3, 5]
const LOOKS = [42, 60]

interface Cell {
  metric: DrawnMetric
  split: readonly [number, number]
  arms: number
  looks: number
}

/** One arm so far. */
interface Arm {
  moments: Moments
  thirds: ThirdSums
  active: number
}

/** Without any effect, and a look every day: how often is something shipped, and how often does a guardrail say harm? */
export const UNEQUAL_SPLITS: readonly Check[] = METRICS.flatMap((metric) =>
  SPLITS.flatMap((split) =>
    ARMS.flatMap((arms) =>
      LOOKS.flatMap((looks) => {
        const cell = { metric, split, arms, looks }
        return [checkOf(cell, 'ship'), checkOf(cell, 'harm')]
      }),
    ),
  ),
)

function checkOf(cell: Cell, kind: 'ship' | 'harm'): Check {
  const { metric, split, arms, looks } = cell
  return {
    name: `${metric.name}, ${split.join(' : ')} over ${arms} arms, ${looks} daily looks, no effect: ${kind}`,
    nominal: 0.025,
    bound: 'at most',
    runs: 1200,
    simulate: (draws) => Number(isEverSaid(cell, kind, draws)),
  }
}

function isEverSaid({ metric, split, arms, looks }: Cell, kind: 'ship' | 'harm', draws: Draws): boolean {
  const perDay = Array.from({ length: arms }, (_, arm) =>
    Math.round((A_DAY / 100) * (arm === 0 ? split[0] : split[1] / (arms - 1))),
  )
  const plan: DecisionPlan = {
    smallestLift: 0.05,
    alpha: ALPHA,
    rule: 'sequential',
    lossLimit: 0.005,
    leastWeeks: LEAST_DAYS / 7,
    longestWeeks: Math.ceil(looks / 7),
    plannedVisitors: A_DAY * looks,
  }
  let all = perDay.map((): Arm => ({ moments: noMoments(1), thirds: NO_THIRDS, active: 0 }))
  for (let day = 1; day <= looks; day++) {
    all = all.map((arm, position) => withDay(arm, metric.draw(perDay[position]!, draws)))
    if (kind === 'ship' && day < LEAST_DAYS) continue
    const variants = statesOf(metric.kind, all, perDay, looks, kind)
    if ((decide(plan, { daysRun: day, visitors: A_DAY * day, unsound: [], variants }).kind as VerdictKind) === kind)
      return true
  }
  return false
}

const NO_THIRDS: ThirdSums = { yyy: 0, yyz: 0, yzz: 0, zzz: 0 }

function withDay({ moments, thirds, active }: Arm, day: DrawnVisitors): Arm {
  return {
    moments: mergeMoments(moments, day.moments),
    thirds: { ...NO_THIRDS, yyy: thirds.yyy + day.cubes },
    active: active + day.active,
  }
}

/** The metric decides where shipping is asked for, and is a guardrail where harm is. */
function statesOf(
  kind: DrawnMetric['kind'],
  all: readonly Arm[],
  perDay: readonly number[],
  looks: number,
  role: 'ship' | 'harm',
): VariantState[] {
  const [control, ...variants] = all
  const shape = (arm: Arm) => armShape(kind, arm.moments, arm.active, arm.thirds)
  const read = (arm: Arm) => {
    const { visitors, mean, variance } = estimateArm(kind, arm.moments)
    return { visitors, mean: mean!, variance: variance ?? 0 }
  }
  const readings = variants.map((variant, index) => ({
    reading: sequentialReading(read(control!), read(variant), {
      alpha: ALPHA,
      plannedVisitors: { control: perDay[0]! * looks, variant: perDay[index + 1]! * looks },
    }),
    shortfall: shortfallOf(kind, shape(control!), shape(variant)),
  }))
  const adjusted = holm(readings.map(({ reading }) => reading.pValue ?? 1))
  return readings.map(({ reading, shortfall }, index): VariantState => {
    const effect = {
      liftInterval: reading.lift.interval,
      differenceInterval: reading.interval,
      controlMean: control!.moments.means[0]!,
      shortfall,
    }
    const none = { liftInterval: null, differenceInterval: null }
    return {
      name: String(index + 1),
      lift: reading.lift.estimate,
      adjustedPValue: adjusted[index]!,
      relativeLoss: null,
      guardrails: role === 'harm' ? [{ name: 'guardrail', limit: LIMIT, ...effect }] : [],
      ...(role === 'ship' ? effect : none),
    }
  })
}
