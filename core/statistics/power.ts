import { normalCdf, normalQuantile } from './distributions'
import { spendingBounds } from './errorSpending'
import {
  alphaSpentBySide,
  crossingProbabilities,
  driftForPower,
  mixtureBoundaries,
  spendingBoundaries,
  type Spending,
} from './groupSequential'
import { tTestPower } from './noncentralT'

/** What a visitor's value is like in the control. */
export type PlannedMetric =
  /** conversion rate, in (0, 1) */
  | { kind: 'conversion'; baseline: number }
  /** mean, not 0, and standard deviation of one visitor's value, above 0 */
  | { kind: 'mean'; mean: number; deviation: number }

/** How often is looked, and by which rule. */
export type LookPlan =
  | { rule: 'fixed' }
  | { rule: 'sequential'; looks: number }
  | { rule: Spending; looks: number }
  /** The error is spent until the planned end; the first look is at this share of it. */
  | { rule: 'spending'; looks: number; from: number }

export interface PowerPlan {
  metric: PlannedMetric
  /** Two-sided error level; divided by the number of variants. */
  alpha: number
  /** Weights of control and variants, all above 0. */
  weights: readonly number[]
  looks: LookPlan
}

/** A plan reduced to the control and the variant with the smallest weight. */
interface Design {
  alpha: number
  /** Visitors of the variant for one of the control. */
  ratio: number
  /** Expected z at the end that gives a power; z_{α/2} + z_{power} for a single look. */
  driftFor: (power: number) => number
  /** The inverse. */
  powerAt: (drift: number) => number
  isFixed: boolean
  /** Share of the visitors that have come, on average, when a boundary is crossed or the plan ends. */
  shareUntilDecided: (drift: number) => number
}

/**
 * Visitors needed in each arm to find a relative lift with a given power.
 *
 * - conversion: two-sample normal formula, pooled variance under the null and unpooled under the alternative
 * - mean: power of the two-sample t test with equal variances, by the noncentral t distribution; its normal limit
 *   where there is more than one look
 * - several variants: α/(K − 1)
 * - looks: the drift at the end that gives the boundary its power, in place of z_{α/2} + z_{power}
 *
 * @param plan - metric, error level, weights and looks
 * @param lift - relative lift, not 0
 * @param power - wanted probability of finding it, in (0, 1)
 * @returns whole visitors for each arm, in the order of the weights
 * @throws RangeError with a sentence for values outside of their ranges
 * @example
 * sampleSize({ metric: { kind: 'conversion', baseline: 0.05 }, alpha: 0.05, weights: [1, 1], looks: { rule: 'fixed' } }, 0.1, 0.8)
 * // [31234, 31234]
 * @see Fleiss, Levin, Paik (2003), Statistical methods for rates and proportions, eq. 4.14 and 4.18;
 *   Jennison, Turnbull (2000), Group sequential methods, section 2.3 and chapter 19 for several looks
 */
export function sampleSize(plan: PowerPlan, lift: number, power: number): number[] {
  checkPlan(plan)
  if (!(power > 0 && power < 1)) throw new RangeError('The power lies between 0 and 1.')
  checkLift(plan.metric, lift)
  const design = designOf(plan)
  if (power <= design.alpha / 2) throw new RangeError('The power must lie above the error level.')
  const control = controlVisitors(plan.metric, design, lift, power)
  return plan.weights.map((weight) => Math.ceil((control * weight) / plan.weights[0]! - 1e-9))
}

/**
 * Power to find a relative lift with a given number of visitors in all arms together.
 *
 * @returns probability in (0, 1)
 */
export function powerOf(plan: PowerPlan, lift: number, visitors: number): number {
  checkPlan(plan)
  checkLift(plan.metric, lift)
  return powerOfDesign(plan.metric, designOf(plan), lift, controlShare(plan.weights) * visitors)
}

/**
 * Visitors until a boundary is crossed, in either direction, or all planned ones have come: on average, with a true lift.
 *
 * @param visitors - that are planned, in all arms together
 */
export function visitorsUntilDecided(plan: PowerPlan, lift: number, visitors: number): number {
  checkPlan(plan)
  checkLift(plan.metric, lift)
  const design = designOf(plan)
  const drift = Math.max(0, driftOf(plan.metric, design, lift, controlShare(plan.weights) * visitors))
  return visitors * design.shareUntilDecided(drift)
}

/**
 * The relative lift above zero that a given number of visitors finds with a given power.
 *
 * @param visitors - in all arms together
 * @returns the lift; null where even the largest possible one is not found
 */
export function detectableLift(plan: PowerPlan, visitors: number, power: number): number | null {
  checkPlan(plan)
  const design = designOf(plan)
  const control = controlShare(plan.weights) * visitors
  const { metric } = plan
  const drift = design.driftFor(power)
  const reaches = (lift: number) =>
    usesT(metric, design)
      ? meanPower(metric, design, lift, control) >= power
      : driftOf(metric, design, lift, control) >= drift
  let low = 0
  let high = metric.kind === 'conversion' ? 1 / metric.baseline - 1 : metric.deviation / Math.abs(metric.mean)
  if (metric.kind === 'conversion') {
    if (!reaches(high * (1 - 1e-12))) return null
  } else {
    while (!reaches(high)) {
      high *= 2
      if (high > 1e12) return null
    }
  }
  for (let step = 0; step < 200 && high - low > 1e-13 * high; step++) {
    const middle = (low + high) / 2
    if (reaches(middle)) high = middle
    else low = middle
  }
  return high
}

/** Plans differ in their metrics much more often than in their looks, whose boundaries take long to compute. */
const designs = new Map<string, Omit<Design, 'ratio'>>()
const MOST_DESIGNS = 100

function designOf({ alpha, weights, looks }: PowerPlan): Design {
  const perVariant = alpha / (weights.length - 1)
  const key = JSON.stringify([perVariant, looks])
  let design = designs.get(key)
  if (!design) {
    if (designs.size === MOST_DESIGNS) designs.clear()
    designs.set(key, (design = lookDesign(perVariant, looks)))
  }
  return { ...design, ratio: Math.min(...weights.slice(1)) / weights[0]! }
}

function lookDesign(perVariant: number, looks: LookPlan): Omit<Design, 'ratio'> {
  const critical = normalQuantile(1 - perVariant / 2)
  if (looks.rule === 'fixed') {
    return {
      alpha: perVariant,
      driftFor: (power) => critical + normalQuantile(power),
      powerAt: (drift) => normalCdf(drift - critical),
      isFixed: true,
      shareUntilDecided: () => 1,
    }
  }
  const fractions = fractionsOf(looks)
  const bounds = boundsOf(looks.rule, fractions, perVariant)
  const drifts = new Map<number, number>()
  return {
    alpha: perVariant,
    driftFor(power) {
      let drift = drifts.get(power)
      if (drift === undefined) drifts.set(power, (drift = driftForPower(fractions, bounds, power)))
      return drift
    },
    powerAt: (drift) => crossingProbabilities(fractions, bounds, Math.max(0, drift)).at(-1)!,
    isFixed: false,
    shareUntilDecided(drift) {
      const crossed = crossingProbabilities(fractions, bounds, drift)
      return fractions.reduce((sum, fraction, look) => {
        const step = fraction - (fractions[look - 1] ?? 0)
        return sum + step * (1 - (crossed[look - 1] ?? 0))
      }, 0)
    },
  }
}

function fractionsOf(looks: Exclude<LookPlan, { rule: 'fixed' }>): number[] {
  const from = looks.rule === 'spending' && looks.looks > 1 ? looks.from : 1 / looks.looks
  return Array.from({ length: looks.looks }, (_, look) =>
    look === looks.looks - 1 ? 1 : from + ((1 - from) * look) / (looks.looks - 1),
  )
}

function boundsOf(rule: Exclude<LookPlan['rule'], 'fixed'>, fractions: readonly number[], alpha: number): number[] {
  if (rule === 'sequential') return mixtureBoundaries(fractions, alpha)
  if (rule === 'spending') return spendingBounds(fractions, { alpha }, true)
  return spendingBoundaries(
    fractions,
    fractions.map((fraction) => alphaSpentBySide(rule, fraction, alpha)),
  )
}

type MeanMetric = Extract<PlannedMetric, { kind: 'mean' }>

function usesT(metric: PlannedMetric, design: Design): metric is MeanMetric {
  return metric.kind === 'mean' && design.isFixed
}

function controlVisitors(metric: PlannedMetric, design: Design, lift: number, power: number): number {
  if (!usesT(metric, design)) {
    const { null: underNull, alternative, difference } = spreadOf(metric, lift, design.ratio)
    const critical = normalQuantile(1 - design.alpha / 2)
    return ((critical * underNull + (design.driftFor(power) - critical) * alternative) / difference) ** 2
  }
  let low = 1 + 1e-9
  let high = 4
  const reaches = (visitors: number) => meanPower(metric, design, lift, visitors) >= power
  while (!reaches(high)) high *= 2
  while (high - low > 1e-7 * high) {
    const middle = (low + high) / 2
    if (reaches(middle)) high = middle
    else low = middle
  }
  return high
}

function powerOfDesign(metric: PlannedMetric, design: Design, lift: number, visitors: number): number {
  return usesT(metric, design)
    ? meanPower(metric, design, lift, visitors)
    : design.powerAt(driftOf(metric, design, lift, visitors))
}

/** Expected z at the end, the null's variance weighing on the critical value only. */
function driftOf(metric: PlannedMetric, { alpha, ratio }: Design, lift: number, visitors: number): number {
  const { null: underNull, alternative, difference } = spreadOf(metric, lift, ratio)
  const critical = normalQuantile(1 - alpha / 2)
  return (Math.abs(difference) * Math.sqrt(visitors) - critical * underNull) / alternative + critical
}

function meanPower(metric: MeanMetric, { alpha, ratio }: Design, lift: number, visitors: number): number {
  const degreesOfFreedom = visitors * (1 + ratio) - 2
  if (!(degreesOfFreedom > 0)) return 0
  return tTestPower(
    (Math.abs(metric.mean * lift) / metric.deviation) * Math.sqrt(visitors / (1 + 1 / ratio)),
    degreesOfFreedom,
    alpha,
  )
}

/** Standard deviations of the difference for one control visitor, under no difference and under the lift. */
function spreadOf(metric: PlannedMetric, lift: number, ratio: number) {
  if (metric.kind === 'mean') {
    const deviation = metric.deviation * Math.sqrt(1 + 1 / ratio)
    return { null: deviation, alternative: deviation, difference: metric.mean * lift }
  }
  const { baseline } = metric
  const lifted = baseline * (1 + lift)
  const pooled = (baseline + ratio * lifted) / (1 + ratio)
  return {
    null: Math.sqrt(pooled * (1 - pooled) * (1 + 1 / ratio)),
    alternative: Math.sqrt(baseline * (1 - baseline) + (lifted * (1 - lifted)) / ratio),
    difference: lifted - baseline,
  }
}

function controlShare(weights: readonly number[]): number {
  return weights[0]! / weights.reduce((sum, weight) => sum + weight, 0)
}

function checkPlan({ metric, alpha, weights, looks }: PowerPlan): void {
  if (!(alpha > 0 && alpha < 1)) throw new RangeError('The error level lies between 0 and 1.')
  if (weights.length < 2) throw new RangeError('There must be a control and at least one variant.')
  if (weights.some((weight) => !(weight > 0))) throw new RangeError('Weights must be above zero.')
  if (looks.rule !== 'fixed' && !(Number.isInteger(looks.looks) && looks.looks >= 1 && looks.looks <= 100))
    throw new RangeError('There are 1 to 100 looks.')
  if (metric.kind === 'conversion' && !(metric.baseline > 0 && metric.baseline < 1))
    throw new RangeError('The baseline rate must lie between 0 and 1.')
  if (metric.kind === 'mean' && !(metric.deviation > 0 && Number.isFinite(metric.deviation)))
    throw new RangeError('The standard deviation must be above zero.')
  if (metric.kind === 'mean' && !(metric.mean !== 0 && Number.isFinite(metric.mean)))
    throw new RangeError('The mean must not be zero: a relative lift of zero is nothing.')
}

function checkLift(metric: PlannedMetric, lift: number): void {
  if (lift === 0 || !Number.isFinite(lift)) throw new RangeError('The lift must not be zero.')
  if (metric.kind === 'conversion') {
    const lifted = metric.baseline * (1 + lift)
    if (!(lifted > 0 && lifted < 1))
      throw new RangeError('The lifted rate must differ from the baseline and lie between 0 and 1.')
  }
}
