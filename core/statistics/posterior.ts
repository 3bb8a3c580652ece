import betaCdf from '@stdlib/stats-base-dists-beta-cdf'
import betaLogDensity from '@stdlib/stats-base-dists-beta-logpdf'
import { fiellerInterval } from './fieller'
import { normalCdf, normalDensity, normalQuantile } from './distributions'

/** What is believed of one arm's mean after the data. */
export type Posterior = { family: 'beta'; a: number; b: number } | { family: 'normal'; mean: number; variance: number }

/** What follows for a variant against the control. Losses are in the metric's own unit. */
export interface PosteriorComparison {
  probabilityBetter: number
  /** E[max(θ₀ − θ, 0)]: what choosing the variant costs on average, should it be worse. */
  expectedLoss: number
  /** E[max(θ − θ₀, 0)]: what keeping the control costs on average. */
  expectedLossOfControl: number
  /** Equal-tailed credible interval of θ/θ₀ − 1; null where θ₀ may well be zero. */
  liftInterval: [number, number] | null
}

/** Beta posterior of a conversion rate under a Beta(1, 1) prior. */
export function conversionPosterior(visitors: number, converted: number): Posterior {
  return { family: 'beta', a: 1 + converted, b: 1 + visitors - converted }
}

/**
 * Posterior reading of a variant against the control, for a metric where more is better.
 *
 * @param control - posterior of the control
 * @param variant - posterior of the variant, of the same family
 * @param alpha - 1 − alpha is the mass of the credible interval
 */
export function comparePosteriors(control: Posterior, variant: Posterior, alpha: number): PosteriorComparison {
  if (control.family === 'beta' && variant.family === 'beta') return compareBeta(control, variant, alpha)
  if (control.family === 'normal' && variant.family === 'normal') return compareNormal(control, variant, alpha)
  throw new TypeError('Posteriors of different families cannot be compared.')
}

type Beta = Extract<Posterior, { family: 'beta' }>
type Normal = Extract<Posterior, { family: 'normal' }>

function compareNormal(control: Normal, variant: Normal, alpha: number): PosteriorComparison {
  const difference = variant.mean - control.mean
  const deviation = Math.sqrt(control.variance + variant.variance)
  if (deviation === 0) {
    return {
      probabilityBetter: difference > 0 ? 1 : difference < 0 ? 0 : 0.5,
      expectedLoss: Math.max(-difference, 0),
      expectedLossOfControl: Math.max(difference, 0),
      liftInterval: control.mean === 0 ? null : [difference / control.mean, difference / control.mean],
    }
  }
  const z = difference / deviation
  return {
    probabilityBetter: normalCdf(z),
    expectedLoss: deviation * normalDensity(z) - difference * normalCdf(-z),
    expectedLossOfControl: deviation * normalDensity(z) + difference * normalCdf(z),
    // The event θ/θ₀ ≤ 1 + r is linear in two normals, so its quantiles solve Fieller's equation.
    liftInterval: fiellerInterval(control, variant, normalQuantile(1 - alpha / 2)),
  }
}

function compareBeta(control: Beta, variant: Beta, alpha: number): PosteriorComparison {
  const lossGrid = logitGrid([control, variant])
  const meanDifference = variant.a / (variant.a + variant.b) - control.a / (control.a + control.b)
  const expectedLoss = integrate(lossGrid, (x) => cdf(variant, x) * (1 - cdf(control, x)))
  return {
    probabilityBetter: probabilityAbove(variant, control, 1),
    expectedLoss,
    expectedLossOfControl: Math.max(0, expectedLoss + meanDifference),
    liftInterval: [ratioQuantile(control, variant, alpha / 2) - 1, ratioQuantile(control, variant, 1 - alpha / 2) - 1],
  }
}

/**
 * P(θ > r·θ₀), integrated over the narrower posterior where the scaled argument of the other's distribution function
 * stays within (0, 1), and else over the one for which it always does: a kink at 1 would cost the accuracy.
 */
function probabilityAbove(variant: Beta, control: Beta, ratio: number): number {
  if (logitDeviation(control) <= logitDeviation(variant)) {
    if (ratio * upperEnd(control) < 1) return integrate(logitGrid([control]), (x) => density(control, x) * (1 - cdf(variant, ratio * x)))
  } else if (upperEnd(variant) / ratio < 1) {
    return integrate(logitGrid([variant]), (x) => density(variant, x) * cdf(control, x / ratio))
  }
  return ratio <= 1
    ? integrate(logitGrid([control], [variant]), (x) => density(control, x) * (1 - cdf(variant, ratio * x)))
    : integrate(logitGrid([variant], [control]), (x) => density(variant, x) * cdf(control, x / ratio))
}

/** The r with P(θ/θ₀ ≤ r) = probability, by false position in log r. */
function ratioQuantile(control: Beta, variant: Beta, probability: number): number {
  const center = Math.log(meanOf(variant) / meanOf(control))
  const deviation = Math.sqrt(1 / control.a + 1 / variant.a)
  let low = center - 2 * deviation
  let high = center + 2 * deviation
  const at = (logRatio: number) => 1 - probabilityAbove(variant, control, Math.exp(logRatio)) - probability
  let lowValue = at(low)
  while (lowValue > 0) lowValue = at((low -= 3 * deviation))
  let highValue = at(high)
  while (highValue < 0) highValue = at((high += 3 * deviation))
  // Illinois variant of false position (Dowell, Jarratt 1971): superlinear, never leaves the bracket.
  for (let step = 0; step < 60 && high - low > 1e-9 * deviation; step++) {
    const middle = (low * highValue - high * lowValue) / (highValue - lowValue)
    const value = at(middle)
    if (Math.abs(value) < 1e-12) return Math.exp(middle)
    if (value < 0) {
      low = middle
      lowValue = value
      highValue /= 2
    } else {
      high = middle
      highValue = value
      lowValue /= 2
    }
  }
  return Math.exp((low + high) / 2)
}

function meanOf({ a, b }: Beta): number {
  return a / (a + b)
}

function cdf({ a, b }: Beta, x: number): number {
  return betaCdf(x, a, b)
}

function density({ a, b }: Beta, x: number): number {
  return Math.exp(betaLogDensity(x, a, b))
}

/** Standard deviation of log(θ/(1 − θ)), to the first order. */
function logitDeviation({ a, b }: Beta): number {
  return Math.sqrt(1 / a + 1 / b)
}

/** Steps a standard deviation; the error falls with exp(−π² · STEPS) for the most skewed posterior. */
const STEPS = 3

/** The logit above which next to nothing of a posterior lies. */
function logitUpperEnd({ a, b }: Beta): number {
  return Math.log(a / b) + 9 * logitDeviation({ family: 'beta', a, b }) + 34 / b
}

function upperEnd(posterior: Beta): number {
  return 1 / (1 + Math.exp(-logitUpperEnd(posterior)))
}

interface Grid {
  points: Float64Array
  weights: Float64Array
}

/**
 * Nodes over (0, 1), equidistant in the logit, where Beta densities are analytic and decay exponentially
 * on both sides: there the trapezoid rule converges geometrically (Trefethen, Weideman 2014).
 *
 * @param posteriors - those whose densities are integrated: they set range and step
 * @param alsoResolved - those whose distribution functions appear: they set the step only
 */
function logitGrid(posteriors: readonly Beta[], alsoResolved: readonly Beta[] = []): Grid {
  let low = Infinity
  let high = -Infinity
  let step = Infinity
  for (const posterior of posteriors) {
    const center = Math.log(posterior.a / posterior.b)
    const deviation = logitDeviation(posterior)
    low = Math.min(low, center - 9 * deviation - 34 / posterior.a)
    high = Math.max(high, logitUpperEnd(posterior))
    step = Math.min(step, deviation / STEPS)
  }
  for (const posterior of alsoResolved) step = Math.min(step, logitDeviation(posterior) / STEPS)
  const size = Math.min(20_000, Math.ceil((high - low) / step) + 1)
  const width = (high - low) / (size - 1)
  const points = new Float64Array(size)
  const weights = new Float64Array(size)
  for (let i = 0; i < size; i++) {
    const x = 1 / (1 + Math.exp(-(low + i * width)))
    points[i] = x
    weights[i] = width * x * (1 - x)
  }
  return { points, weights }
}

function integrate(grid: Grid, integrand: (x: number) => number): number {
  let sum = 0
  for (let i = 0; i < grid.points.length; i++) {
    if (grid.weights[i]! > 0) sum += grid.weights[i]! * integrand(grid.points[i]!)
  }
  return sum
}

/**
 * Probability of each arm to be the best of all, for metrics where more is better.
 *
 * @param posteriors - one an arm, all of one family
 * @returns probabilities in the same order; they sum to 1 up to the quadrature's error
 */
export function probabilityBest(posteriors: readonly Posterior[]): number[] {
  return posteriors.map((own, index) => {
    const others = posteriors.filter((_, other) => other !== index)
    if (own.family === 'beta') {
      const grid = logitGrid([own, ...(others as Beta[])])
      return integrate(grid, (x) => density(own, x) * others.reduce((product, other) => product * cdf(other as Beta, x), 1))
    }
    const deviation = Math.sqrt(own.variance) || Number.MIN_VALUE
    let sum = 0
    for (let z = -9; z <= 9; z += 0.05) {
      const x = own.mean + z * deviation
      sum += 0.05 * normalDensity(z) * (others as Normal[]).reduce((product, other) => product * normalAt(other, x), 1)
    }
    return sum
  })
}

function normalAt({ mean, variance }: Normal, x: number): number {
  if (variance === 0) return x > mean ? 1 : x < mean ? 0 : 0.5
  return normalCdf((x - mean) / Math.sqrt(variance))
}
