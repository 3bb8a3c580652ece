import betaCdf from '@stdlib/stats-base-dists-beta-cdf'
import { normalQuantile } from './distributions'
import { panelNodes } from './quadrature'
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

/** Trapezoid steps a standard deviation, and the longest step: a density's poles lie at ±πi, however wide it is. */
const STEPS = 2
const LONGEST_STEP = 0.35
/** Nodes above which an even lattice gives way to panels that are short only where a density is narrow. */
const MOST_EVEN_NODES = 400

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
  const shape = (logit: number) =>
    Math.exp(a * (logit - center) - (a + b) * Math.log1p(rate * Math.expm1(logit - center)))
  const nodes = Math.ceil((high - low) / Math.min(LONGEST_STEP, deviation / STEPS)) + 1
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
  const low = from > posterior.low ? from : posterior.low
  const high = to < posterior.high ? to : posterior.high
  if (!(high > low)) return 0
  const parts = Math.ceil((high - low) / Math.min(LONGEST_STEP, posterior.deviation * 0.6))
  const width = (high - low) / parts
  let mass = 0
  for (let part = 0; part < parts; part++) {
    for (let node = 0; node < 4; node++)
      mass += GAUSS[node]!.weight * posterior.at(low + (part + GAUSS[node]!.at) * width)
  }
  return mass * width
}

/** Nodes and weights of an integral over the logit. */
interface Nodes {
  logits: Float64Array
  weights: Float64Array
}

/**
 * Nodes that cover all of `covered`, and are dense enough for whatever has the finest deviation and bends at `bends`.
 */
function nodesFor(covered: readonly LogitDensity[], finest: number, bends: readonly number[]): Nodes {
  const low = Math.min(...covered.map((each) => each.low))
  const high = Math.max(...covered.map((each) => each.high))
  const size = Math.ceil((high - low) / Math.min(LONGEST_STEP, finest / STEPS)) + 1
  if (size > MOST_EVEN_NODES) {
    const { nodes, weights } = panelNodes([
      low,
      ...bends.filter((bend) => bend > low && bend < high).sort((a, b) => a - b),
      high,
    ])
    return { logits: nodes, weights }
  }
  const step = (high - low) / (size - 1)
  return {
    logits: Float64Array.from({ length: size }, (_, node) => low + node * step),
    weights: new Float64Array(size).fill(step),
  }
}

/** Where a density bends: every standard deviation, and along its exponential tails. */
function bendsOf({ a, b, low, high, deviation }: LogitDensity): number[] {
  const bends: number[] = []
  for (let bend = low; bend < low + 34 / a; bend += Math.max(2 / a, deviation)) bends.push(bend)
  for (let bend = low + 34 / a; bend < high - 34 / b; bend += deviation) bends.push(bend)
  for (let bend = high - 34 / b; bend < high; bend += Math.max(2 / b, deviation)) bends.push(bend)
  return bends
}

/**
 * P(θ > θ₀), E[max(θ₀ − θ, 0)] and E[max(θ − θ₀, 0)] of two independent posteriors.
 */
export function compareBetas(
  control: Beta,
  variant: Beta,
): { probabilityAbove: number; expectedShortfall: number; expectedExcess: number } {
  const [first, second] = [logitDensity(control), logitDensity(variant)]
  const { logits, weights } = nodesFor([first, second], Math.min(first.deviation, second.deviation), [
    ...bendsOf(first),
    ...bendsOf(second),
  ])
  const below = sweep(first, logits)
  const above = sweep(second, logits)
  let probabilityAbove = 0
  let expectedShortfall = 0
  let expectedExcess = 0
  for (let node = 0; node < logits.length; node++) {
    const logit = logits[node]!
    probabilityAbove += weights[node]! * first.at(logit) * above.upper[node]!
    // dθ = θ(1 − θ) ds
    const width = weights[node]! * sigmoid(logit) * sigmoid(-logit)
    expectedShortfall += width * above.lower[node]! * below.upper[node]!
    expectedExcess += width * above.upper[node]! * below.lower[node]!
  }
  return { probabilityAbove, expectedShortfall, expectedExcess }
}

/** Probability of each of several independent posteriors to be the highest. */
export function probabilityHighest(posteriors: readonly Beta[]): number[] {
  const densities = posteriors.map(logitDensity)
  // A product of many distribution functions bends more sharply than each of them.
  const sharpness = 1 + Math.log10(densities.length)
  const { logits, weights } = nodesFor(
    densities,
    Math.min(...densities.map((each) => each.deviation)) / sharpness,
    densities.flatMap(bendsOf),
  )
  const lowers = densities.map((density) => sweep(density, logits).lower)
  return densities.map((own, index) => {
    let sum = 0
    for (let node = 0; node < logits.length; node++) {
      let product = weights[node]! * own.at(logits[node]!)
      for (let other = 0; other < lowers.length; other++) if (other !== index) product *= lowers[other]![node]!
      sum += product
    }
    return sum
  })
}

/**
 * The r with P(θ/θ₀ ≤ r) = probability, for each of several probabilities.
 *
 * @param control - posterior of θ₀
 * @param variant - posterior of θ, independent
 * @param probabilities - each in (0, 1)
 */
export function ratioQuantiles(control: Beta, variant: Beta, probabilities: readonly number[]): number[] {
  const above = ratioTail(logitDensity(control), logitDensity(variant))
  const center = Math.log(variant.a / (variant.a + variant.b)) - Math.log(control.a / (control.a + control.b))
  const deviation = Math.sqrt(1 / control.a + 1 / variant.a)
  return probabilities.map((probability) => {
    const target = normalQuantile(probability)
    // On the scale of normal quantiles the distribution of log r is nearly a straight line.
    const at = (logRatio: number) =>
      normalQuantile(Math.min(1 - 1e-15, Math.max(1e-15, 1 - above(Math.exp(logRatio))))) - target
    return Math.exp(risingRoot(at, center + target * deviation, deviation, 1e-9))
  })
}

/**
 * P(θ > r·θ₀) as a function of r, integrated over the narrower posterior where r times it stays within (0, 1), and
 * else over the one for which it always does: a kink at 1 would cost the accuracy.
 */
function ratioTail(control: LogitDensity, variant: LogitDensity): (ratio: number) => number {
  const finest = Math.min(control.deviation, variant.deviation)
  const ownNodes = (own: LogitDensity) => {
    const { logits, weights } = nodesFor([own], own.deviation, [])
    return { logits, masses: weights.map((weight, node) => weight * own.at(logits[node]!)) }
  }
  let ofControl: ReturnType<typeof ownNodes> | null = null
  let ofVariant: ReturnType<typeof ownNodes> | null = null
  return (ratio) => {
    if (control.deviation <= variant.deviation && ratio * sigmoid(control.high) < 1)
      return integrate((ofControl ??= ownNodes(control)), variant, ratio, 'upper')
    if (control.deviation > variant.deviation && sigmoid(variant.high) / ratio < 1)
      return integrate((ofVariant ??= ownNodes(variant)), control, 1 / ratio, 'lower')
    const [own, other, factor] = ratio <= 1 ? [control, variant, ratio] : [variant, control, 1 / ratio]
    // Where the other one bends, seen from here.
    const bends = bendsOf(other)
      .filter((bend) => sigmoid(bend) < factor)
      .map((bend) => scaledLogit(bend, 1 / factor))
    const { logits, weights } = nodesFor([own], finest, [...bendsOf(own), ...bends])
    return integrate(
      { logits, masses: weights.map((weight, node) => weight * own.at(logits[node]!)) },
      other,
      factor,
      ratio <= 1 ? 'upper' : 'lower',
    )
  }
}

/** ∫ dF(θ)·P(other above, or below, factor·θ). */
function integrate(
  { logits, masses }: { logits: Float64Array; masses: Float64Array },
  other: LogitDensity,
  factor: number,
  side: 'lower' | 'upper',
): number {
  const tails = sweep(
    other,
    logits.map((logit) => scaledLogit(logit, factor)),
  )[side]
  let sum = 0
  for (let node = 0; node < masses.length; node++) sum += masses[node]! * tails[node]!
  return sum
}

/** Logit of r·θ from the logit of θ, for r·θ < 1. */
function scaledLogit(logit: number, ratio: number): number {
  return Math.log(ratio) - Math.log(Math.exp(-logit) + 1 - ratio)
}

function sigmoid(logit: number): number {
  return 1 / (1 + Math.exp(-logit))
}
