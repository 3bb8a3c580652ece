import { compareBetas, probabilityHighest, ratioQuantiles, type Beta } from './betaPosterior'
import { normalCdf, normalDensity, normalQuantile } from './distributions'
import type { MetricKind } from './estimate'
import { fiellerInterval } from './fieller'
import { integratePanels } from './quadrature'

/** What is believed of one arm's metric after the data. */
export type Posterior = ({ family: 'beta' } & Beta) | { family: 'normal'; mean: number; variance: number }

/** Which way is better. */
export type Direction = 'up' | 'down'

/** What follows for a variant against the control. Losses are in the metric's own unit. */
export interface PosteriorComparison {
  probabilityBetter: number | null
  /** What choosing the variant costs on average, should it be worse: E[max(θ₀ − θ, 0)] where more is better. */
  expectedLoss: number | null
  /** What keeping the control costs on average, should the variant be better. */
  expectedLossOfControl: number | null
  /** Equal-tailed credible interval of θ/θ₀ − 1; null where θ₀ may well be zero. */
  liftInterval: [number, number] | null
  why?: string
}

/** Belief about relative lifts before the data, such as one learned from past experiments. */
export interface LiftPrior {
  /** Mean of the relative lift, such as 0.01. */
  mean: number
  /** Standard deviation of the relative lift, above 0. */
  deviation: number
}

type Normal = Extract<Posterior, { family: 'normal' }>

/** Parameters of the Beta prior of a conversion rate: (1, 1), every rate as likely as any other. */
const PRIOR = { a: 1, b: 1 }

/**
 * Posterior of one arm's metric: exact Beta for conversions, the normal likelihood of the estimate otherwise.
 *
 * @param kind - of the metric
 * @param arm - its estimate
 * @returns null where there is no estimate or, for means and ratios, no variance
 */
export function posteriorOf(
  kind: MetricKind,
  arm: { visitors: number; mean: number | null; variance: number | null },
): Posterior | null {
  if (arm.mean === null || arm.variance === null) return null
  if (kind !== 'conversion') return { family: 'normal', mean: arm.mean, variance: arm.variance / arm.visitors }
  const converted = arm.mean * arm.visitors
  return { family: 'beta', a: PRIOR.a + converted, b: PRIOR.b + arm.visitors - converted }
}

/**
 * Posterior reading of a variant against the control.
 *
 * @param control - posterior of the control
 * @param variant - posterior of the variant, of the same family
 * @param alpha - 1 − alpha is the mass of the credible interval
 * @param direction - whether more or less of the metric is better
 * @see docs/statistics.md
 */
export function comparePosteriors(
  control: Posterior,
  variant: Posterior,
  alpha: number,
  direction: Direction = 'up',
): PosteriorComparison {
  if (control.family === 'beta' && variant.family === 'beta') {
    const { probabilityAbove, expectedShortfall, expectedExcess } = compareBetas(control, variant)
    const [low, high] = ratioQuantiles(control, variant, [alpha / 2, 1 - alpha / 2])
    return turned(direction, probabilityAbove, expectedShortfall, expectedExcess, [low! - 1, high! - 1])
  }
  if (control.family === 'normal' && variant.family === 'normal') {
    const [above, shortfall, excess] = normalExcess(variant.mean - control.mean, control.variance + variant.variance)
    // The event θ/θ₀ ≤ 1 + r is linear in two normals, so its quantiles solve Fieller's equation.
    const interval = fiellerInterval(control, variant, normalQuantile(1 - alpha / 2))
    const reading = turned(direction, above, shortfall, excess, interval)
    return interval
      ? reading
      : { ...reading, why: 'The control’s mean cannot be told from zero yet, so a relative lift has no bounds.' }
  }
  throw new TypeError('Posteriors of different families cannot be compared.')
}

/**
 * Posterior reading under a normal prior on the relative lift: the estimate is drawn toward what past experiments
 * achieved, the more so the less the data say.
 *
 * @param control - estimate of the control's metric, and the variance of that estimate; not zero
 * @param variant - the same of the variant
 * @param prior - belief about relative lifts before the data
 * @see Gelman et al. (2013), Bayesian Data Analysis, 3rd ed., eq. 2.9–2.11, on the lift's delta-method estimate
 */
export function compareWithLiftPrior(
  control: { mean: number; variance: number },
  variant: { mean: number; variance: number },
  prior: LiftPrior,
  alpha: number,
  direction: Direction = 'up',
): PosteriorComparison {
  const { mean, variance } = shrinkLift(liftWithVariance(control, variant), prior)
  const unit = Math.abs(control.mean)
  const [above, shortfall, excess] = normalExcess(mean, variance)
  const half = normalQuantile(1 - alpha / 2) * Math.sqrt(variance)
  const reading = control.mean > 0 ? ([above, shortfall, excess] as const) : ([1 - above, excess, shortfall] as const)
  return turned(direction, reading[0], reading[1] * unit, reading[2] * unit, [mean - half, mean + half])
}

/** Relative lift m/m₀ − 1 and its variance by the delta method. */
export function liftWithVariance(
  control: { mean: number; variance: number },
  variant: { mean: number; variance: number },
): { mean: number; variance: number } {
  const ratio = variant.mean / control.mean
  return {
    mean: ratio - 1,
    variance: (variant.variance + ratio * ratio * control.variance) / (control.mean * control.mean),
  }
}

/** Posterior mean and variance of a lift with a normal likelihood under a normal prior. */
export function shrinkLift(
  lift: { mean: number; variance: number },
  prior: LiftPrior,
): { mean: number; variance: number } {
  const priorVariance = prior.deviation * prior.deviation
  const weight = priorVariance / (priorVariance + lift.variance)
  return { mean: prior.mean + weight * (lift.mean - prior.mean), variance: weight * lift.variance }
}

/**
 * Probability of each arm to be the best of all.
 *
 * @param posteriors - one an arm, all of one family
 * @param direction - whether more or less of the metric is better
 * @returns probabilities in the same order; they sum to 1 up to the quadrature's error
 */
export function probabilityBest(posteriors: readonly Posterior[], direction: Direction = 'up'): number[] {
  if (posteriors.every((each): each is Extract<Posterior, { family: 'beta' }> => each.family === 'beta')) {
    // The lowest rate is the highest rate of not converting.
    return probabilityHighest(direction === 'up' ? posteriors : posteriors.map(({ a, b }) => ({ a: b, b: a }))).map(
      asProbability,
    )
  }
  const sign = direction === 'up' ? 1 : -1
  if (posteriors.length === 2) return bestOfTwoNormals(posteriors as readonly Normal[], sign)
  const normals = (posteriors as readonly Normal[]).map(({ mean, variance }) => ({
    mean: sign * mean,
    deviation: Math.sqrt(variance),
  }))
  return normals.map((own, index) => {
    const others = normals.filter((_, other) => other !== index)
    const othersBelow = (x: number) => others.reduce((product, other) => product * normalBelow(other, x), 1)
    if (own.deviation === 0) return asProbability(othersBelow(own.mean))
    // Panels end where any arm's distribution bends, however narrow it is beside the others.
    const breaks = normals.flatMap(({ mean, deviation }) =>
      BENDS.map((bend) => (mean + bend * deviation - own.mean) / own.deviation),
    )
    const inside = breaks.filter((z) => z > -9 && z < 9)
    const probability = integratePanels(
      (z) => normalDensity(z) * othersBelow(own.mean + z * own.deviation),
      [-9, ...inside.sort((a, b) => a - b), 9],
    )
    return asProbability(probability)
  })
}

/** Of two, the one whose difference from the other lies above 0. */
function bestOfTwoNormals([one, other]: readonly Normal[], sign: 1 | -1): number[] {
  const deviation = Math.sqrt(one!.variance + other!.variance)
  const first = normalBelow({ mean: sign * (other!.mean - one!.mean), deviation }, 0)
  return [first, 1 - first]
}

const BENDS = [-9, -6, -4.5, -3, -2, -1, 0, 1, 2, 3, 4.5, 6, 9]

function normalBelow({ mean, deviation }: { mean: number; deviation: number }, x: number): number {
  if (deviation === 0) return x > mean ? 1 : x < mean ? 0 : 0.5
  return normalCdf((x - mean) / deviation)
}

/** P(D > 0), E[max(−D, 0)] and E[max(D, 0)] of a normal D. */
function normalExcess(mean: number, variance: number): [above: number, shortfall: number, excess: number] {
  if (variance === 0) return [mean > 0 ? 1 : mean < 0 ? 0 : 0.5, Math.max(-mean, 0), Math.max(mean, 0)]
  const deviation = Math.sqrt(variance)
  const z = mean / deviation
  return [normalCdf(z), deviation * lossFunction(z), deviation * lossFunction(-z)]
}

/** E[max(Z − z, 0)] = φ(z) − z·Φ(−z); by a continued fraction where the two would cancel. */
function lossFunction(z: number): number {
  if (z < 5) return normalDensity(z) - z * normalCdf(-z)
  // Mills' ratio 1/(z + 1/(z + 2/(z + …))) (Abramowitz, Stegun 1964, 26.2.14): φ(z)·(1 − z·M(z)).
  let tail = z
  for (let term = 60; term > 1; term--) tail = z + term / tail
  return normalDensity(z) / (1 + z * tail)
}

/** Sums of a quadrature may leave [0, 1] by an ulp or two. */
function asProbability(value: number): number {
  return Math.min(1, Math.max(0, value))
}

function turned(
  direction: Direction,
  probabilityAbove: number,
  shortfall: number,
  excess: number,
  liftInterval: [number, number] | null,
): PosteriorComparison {
  const above = asProbability(probabilityAbove)
  return direction === 'up'
    ? { probabilityBetter: above, expectedLoss: shortfall, expectedLossOfControl: excess, liftInterval }
    : { probabilityBetter: 1 - above, expectedLoss: excess, expectedLossOfControl: shortfall, liftInterval }
}
