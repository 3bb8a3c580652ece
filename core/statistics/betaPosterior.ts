import betaCdf from '@stdlib/stats-base-dists-beta-cdf'
import { normalQuantile } from './distributions'
import { risingRoot } from './rootFinding'

/**
 * Beta posteriors of conversion rates, compared by one-dimensional quadrature.
 *
 * Everything is integrated over the logit s = log(θ/(1 − θ)). There a Beta density is analytic on the whole line and
 * decays exponentially on both sides, so the trapezoid rule converges geometrically (Trefethen, Weideman 2014,
 * The exponentially convergent trapezoidal rule). Distribution functions at many ascending points are swept up from
 * the density between them, from both ends, so that small tails keep their digits.
 */
export interface Beta {
  a: number
  b: number
}

/** Trapezoid steps a standard deviation; the error falls with exp(−π²·STEPS) for the most skewed posterior. */
const STEPS = 3
/** Most nodes of a lattice; reached only where posteriors differ in width by a factor of hundreds. */
const MOST_NODES = 20_000

/** 4-point Gauss–Legendre on [0, 1] (Abramowitz, Stegun 1964, table 25.4), for the short way between two nodes. */
const GAUSS = [
  { at: 0.06943184420297371, weight: 0.17392742256872692 },
  { at: 0.33000947820757187, weight: 0.3260725774312731 },
  { at: 0.6699905217924281, weight: 0.3260725774312731 },
  { at: 0.9305681557970263, weight: 0.17392742256872692 },
] as const

/** A Beta density over the logit, normalized, with the range outside of which next to nothing of it lies. */
interface LogitDensity extends Beta {
  deviation: number
  low: number
  high: number
  at: (logit: number) => number
}

function logitDensity({ a, b }: Beta): LogitDensity {
  const center = Math.log(a / b)
  const rate = a / (a + b)
  // The first-order standard deviation of the logit.
  const deviation = Math.sqrt(1 / a + 1 / b)
  const low = center - 9 * deviation - 34 / a
  const high = center + 9 * deviation + 34 / b
  // Relative to the center: log s-density differences stay small where a and b are in the billions.
  const shape = (logit: number) => Math.exp(a * (logit - center) - (a + b) * Math.log1p(rate * Math.expm1(logit - center)))
  const nodes = Math.ceil(((high - low) / deviation) * STEPS) + 1
  const step = (high - low) / (nodes - 1)
  let mass = 0
  for (let node = 0; node < nodes; node++) mass += shape(low + node * step)
  const scale = 1 / (mass * step)
  return { a, b, deviation, low, high, at: (logit) => scale * shape(logit) }
}

/** P(S ≤ s) and P(S > s) of a posterior at ascending logits. */
function sweep(posterior: LogitDensity, logits: ArrayLike<number>): { lower: Float64Array; upper: Float64Array } {
  const size = logits.length
  const lower = new Float64Array(size)
  const upper = new Float64Array(size)
  const between = new Float64Array(size)
  for (let node = 1; node < size; node++) between[node] = massBetween(posterior, logits[node - 1]!, logits[node]!)
  lower[0] = betaCdf(sigmoid(logits[0]!), posterior.a, posterior.b)
  for (let node = 1; node < size; node++) lower[node] = lower[node - 1]! + between[node]!
  upper[size - 1] = betaCdf(sigmoid(-logits[size - 1]!), posterior.b, posterior.a)
  for (let node = size - 1; node > 0; node--) upper[node - 1] = upper[node]! + between[node]!
  return { lower, upper }
}

function massBetween(posterior: LogitDensity, from: number, to: number): number {
  const low = Math.max(from, posterior.low)
  const high = Math.min(to, posterior.high)
  if (!(high > low)) return 0
  const parts = Math.ceil((high - low) / (posterior.deviation / 2))
  const width = (high - low) / parts
  let mass = 0
  for (let part = 0; part < parts; part++) {
    for (const { at, weight } of GAUSS) mass += weight * posterior.at(low + (part + at) * width)
  }
  return mass * width
}

/** Equidistant logits that cover all of `covered` and resolve those of `resolved` too. */
function lattice(covered: readonly LogitDensity[], resolved: readonly LogitDensity[] = []): { logits: Float64Array; step: number } {
  const low = Math.min(...covered.map((each) => each.low))
  const high = Math.max(...covered.map((each) => each.high))
  const finest = Math.min(...[...covered, ...resolved].map((each) => each.deviation)) / STEPS
  const size = Math.min(MOST_NODES, Math.ceil((high - low) / finest) + 1)
  const step = (high - low) / (size - 1)
  return { logits: Float64Array.from({ length: size }, (_, node) => low + node * step), step }
}

/**
 * P(θ > θ₀), E[max(θ₀ − θ, 0)] and E[max(θ − θ₀, 0)] of two independent posteriors.
 */
export function compareBetas(control: Beta, variant: Beta): { probabilityAbove: number; expectedShortfall: number; expectedExcess: number } {
  const [first, second] = [logitDensity(control), logitDensity(variant)]
  const { logits, step } = lattice([first, second])
  const below = sweep(first, logits)
  const above = sweep(second, logits)
  let probabilityAbove = 0
  let expectedShortfall = 0
  let expectedExcess = 0
  logits.forEach((logit, node) => {
    probabilityAbove += step * first.at(logit) * above.upper[node]!
    // dθ = θ(1 − θ) ds
    const width = step * sigmoid(logit) * sigmoid(-logit)
    expectedShortfall += width * above.lower[node]! * below.upper[node]!
    expectedExcess += width * above.upper[node]! * below.lower[node]!
  })
  return { probabilityAbove, expectedShortfall, expectedExcess }
}

/** Probability of each of several independent posteriors to be the highest. */
export function probabilityHighest(posteriors: readonly Beta[]): number[] {
  const densities = posteriors.map(logitDensity)
  const { logits, step } = lattice(densities)
  const lowers = densities.map((density) => sweep(density, logits).lower)
  return densities.map((own, index) =>
    logits.reduce((sum, logit, node) => {
      let others = step * own.at(logit)
      for (let other = 0; other < lowers.length; other++) if (other !== index) others *= lowers[other]![node]!
      return sum + others
    }, 0),
  )
}

/**
 * The r with P(θ/θ₀ ≤ r) = probability.
 *
 * @param control - posterior of θ₀
 * @param variant - posterior of θ, independent
 * @param probability - in (0, 1)
 */
export function ratioQuantile(control: Beta, variant: Beta, probability: number): number {
  const [first, second] = [logitDensity(control), logitDensity(variant)]
  const center = Math.log(variant.a / (variant.a + variant.b)) - Math.log(control.a / (control.a + control.b))
  const deviation = Math.sqrt(1 / control.a + 1 / variant.a)
  const target = normalQuantile(probability)
  // On the scale of normal quantiles the distribution of log r is nearly a straight line.
  const at = (logRatio: number) => {
    const above = ratioAbove(first, second, Math.exp(logRatio))
    return normalQuantile(Math.min(1 - 1e-15, Math.max(1e-15, 1 - above))) - target
  }
  let low = center + (target - 0.5) * deviation
  let high = center + (target + 0.5) * deviation
  while (at(low) > 0) low -= 2 * deviation
  while (at(high) < 0) high += 2 * deviation
  return Math.exp(risingRoot(at, low, high, 1e-9 * deviation, 1e-10))
}

/**
 * P(θ > r·θ₀), integrated over the narrower posterior where r times it stays within (0, 1), and else over the one
 * for which it always does: a kink at 1 would cost the accuracy.
 */
function ratioAbove(control: LogitDensity, variant: LogitDensity, ratio: number): number {
  if (control.deviation <= variant.deviation) {
    if (ratio * sigmoid(control.high) < 1) return overControl([])
  } else if (sigmoid(variant.high) / ratio < 1) {
    return overVariant([])
  }
  return ratio <= 1 ? overControl([variant]) : overVariant([control])

  function overControl(resolved: LogitDensity[]): number {
    const { logits, step } = lattice([control], resolved)
    const { upper } = sweep(variant, logits.map((logit) => scaledLogit(logit, ratio)))
    return step * logits.reduce((sum, logit, node) => sum + control.at(logit) * upper[node]!, 0)
  }
  function overVariant(resolved: LogitDensity[]): number {
    const { logits, step } = lattice([variant], resolved)
    const { lower } = sweep(control, logits.map((logit) => scaledLogit(logit, 1 / ratio)))
    return step * logits.reduce((sum, logit, node) => sum + variant.at(logit) * lower[node]!, 0)
  }
}

/** Logit of r·θ from the logit of θ, for r·θ < 1. */
function scaledLogit(logit: number, ratio: number): number {
  return Math.log(ratio) - Math.log(Math.exp(-logit) + 1 - ratio)
}

function sigmoid(logit: number): number {
  return 1 / (1 + Math.exp(-logit))
}
