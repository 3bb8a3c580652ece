import { normalCdf, normalQuantile, normalUpperTail } from './distributions'
import { risingRoot } from './rootFinding'
import { mixtureParameter, sequentialHalfWidth } from './sequential'

export type Spending = 'obrien-fleming' | 'pocock'

/**
 * Share of the two-sided error level that may be spent by an information fraction.
 *
 * @param spending - 'obrien-fleming' 2 − 2Φ(z_{α/2}/√t), little at first; 'pocock' α·ln(1 + (e − 1)t), evenly
 * @param fraction - information fraction t in (0, 1]
 * @param alpha - two-sided error level in (0, 1)
 * @returns the error spent up to t, in both tails together
 * @example alphaSpent('pocock', 1, 0.05) // 0.05
 * @see Lan, DeMets (1983), Discrete sequential boundaries for clinical trials, Biometrika 70;
 *   Jennison, Turnbull (2000), Group sequential methods, section 7.2
 */
export function alphaSpent(spending: Spending, fraction: number, alpha: number): number {
  if (spending === 'pocock') return alpha * Math.log1p((Math.E - 1) * fraction)
  return 2 * normalUpperTail(normalQuantile(1 - alpha / 2) / Math.sqrt(fraction))
}

/**
 * The same where each side has a spending function of its own, of half the error level: what most software for planned
 * looks computes.
 *
 * @returns the error spent up to t, in both tails together
 * @example alphaSpentBySide('obrien-fleming', 0.2, 0.05) // about 1.08e-6: the bound is 4.8769
 */
export function alphaSpentBySide(spending: Spending, fraction: number, alpha: number): number {
  return 2 * alphaSpent(spending, fraction, alpha / 2)
}

/**
 * Critical values |z| at planned looks that spend a given error.
 *
 * @param fractions - information fraction at each look, ascending, in (0, 1]
 * @param cumulativeAlpha - error spent up to each look in both tails together, not descending
 * @returns one value a look; Infinity where nothing is spent
 * @throws RangeError when the fractions do not ascend within (0, 1]
 * @example
 * const fractions = [0.2, 0.4, 0.6, 0.8, 1]
 * spendingBoundaries(fractions, fractions.map((t) => alphaSpent('pocock', t, 0.05)))
 * // about [2.438, 2.427, 2.410, 2.397, 2.386]
 * @see Armitage, McPherson, Rowe (1969), Repeated significance tests on accumulating data, J. Royal Stat. Soc. A 132;
 *   Jennison, Turnbull (2000), chapter 19 for the grid
 */
export function spendingBoundaries(fractions: readonly number[], cumulativeAlpha: readonly number[]): number[] {
  checkFractions(fractions)
  const walk = startWalk(0)
  return fractions.map((fraction, look) => {
    const increment = cumulativeAlpha[look]! - (cumulativeAlpha[look - 1] ?? 0)
    const bound = increment > 0 ? solveBound(walk, fraction, increment) : Infinity
    walk.advance(fraction, bound)
    return bound
  })
}

/**
 * Probability to have crossed boundaries by each look, in either direction.
 *
 * @param fractions - information fraction at each look, ascending
 * @param bounds - critical |z| at each look
 * @param drift - expected z at information fraction 1; 0 gives the error spent, else the power
 * @returns cumulative probabilities
 */
export function crossingProbabilities(
  fractions: readonly number[],
  bounds: readonly number[],
  drift: number,
): number[] {
  checkFractions(fractions)
  const walk = startWalk(drift)
  let crossed = 0
  return fractions.map((fraction, look) => {
    crossed += walk.tails(fraction, bounds[look]!)
    walk.advance(fraction, bounds[look]!)
    return crossed
  })
}

/**
 * Critical values |z| of the always-valid interval at planned looks.
 *
 * @param fractions - information fraction at each look
 * @param alpha - two-sided error level
 */
export function mixtureBoundaries(fractions: readonly number[], alpha: number): number[] {
  const rho = mixtureParameter(1, alpha)
  return fractions.map((fraction) => sequentialHalfWidth(fraction, rho, alpha) * Math.sqrt(fraction))
}

/**
 * The expected z at the end that a design needs for its power.
 *
 * @param fractions - information fraction at each look, the last being 1
 * @param bounds - critical |z| at each look
 * @param power - wanted probability to cross, in (0, 1)
 * @returns drift; its square over that of a single look is the design's inflation of the sample size
 */
export function driftForPower(fractions: readonly number[], bounds: readonly number[], power: number): number {
  const target = normalQuantile(power)
  // On the scale of normal quantiles the power is nearly a straight line.
  const at = (drift: number) =>
    normalQuantile(Math.min(1 - 1e-15, Math.max(1e-15, crossingProbabilities(fractions, bounds, drift).at(-1)!))) -
    target
  return risingRoot(at, Math.max(0, Math.min(...bounds) + target), 1, 1e-10)
}

function checkFractions(fractions: readonly number[]): void {
  const ascending = fractions.every((fraction, look) => fraction > (fractions[look - 1] ?? 0) && fraction <= 1)
  if (fractions.length === 0 || !ascending) throw new RangeError('Information fractions must ascend within (0, 1].')
}

/** Steps of the grid; 4 in 10⁸ of error at 32 (Jennison, Turnbull 2000, section 19.2). */
const GRID = 32

/** The density of the score process √t·z, while no boundary has been crossed. */
interface Walk {
  /** Probability of crossing at a look with a bound, not having crossed before. */
  tails: (fraction: number, bound: number) => number
  advance: (fraction: number, bound: number) => void
}

function startWalk(drift: number): Walk {
  let reached = 0
  // Before the first look the process stands at zero.
  let scores: number[] = [0]
  let masses: number[] = [1]
  return {
    tails(fraction, bound) {
      if (bound === Infinity) return 0
      const step = Math.sqrt(fraction - reached)
      const edge = bound * Math.sqrt(fraction)
      const center = drift * (fraction - reached)
      return scores.reduce(
        (sum, score, node) =>
          sum +
          masses[node]! *
            (normalUpperTail((edge - score - center) / step) + normalCdf((-edge - score - center) / step)),
        0,
      )
    },
    advance(fraction, bound) {
      const step = Math.sqrt(fraction - reached)
      const root = Math.sqrt(fraction)
      const nodes = simpsonNodes(drift * root, bound)
      const [from, mass, passed] = [scores, masses, reached]
      const scale = root / (step * Math.sqrt(2 * Math.PI))
      scores = nodes.map(({ z }) => z * root)
      masses = nodes.map(({ z, weight }) => {
        const score = z * root
        let density = 0
        for (let node = 0; node < from.length; node++) {
          const gap = (score - from[node]! - drift * (fraction - passed)) / step
          density += mass[node]! * Math.exp((-gap * gap) / 2)
        }
        return weight * scale * density
      })
      reached = fraction
    },
  }
}

/** Simpson's rule on z within the bounds: dense where the density lies, thinning out toward the tails. */
function simpsonNodes(center: number, bound: number): { z: number; weight: number }[] {
  const outer: number[] = []
  for (let i = 1; i < GRID; i++) outer.push(-3 - 4 * Math.log(GRID / i))
  for (let i = GRID; i <= 5 * GRID; i++) outer.push(-3 + (3 * (i - GRID)) / (2 * GRID))
  for (let i = 5 * GRID + 1; i < 6 * GRID; i++) outer.push(3 + 4 * Math.log(GRID / (6 * GRID - i)))
  const inside = outer.map((offset) => center + offset).filter((z) => z > -bound && z < bound)
  const edges = bound === Infinity ? inside : [-bound, ...inside, bound]
  const nodes = edges.map((z) => ({ z, weight: 0 }))
  const all = [nodes[0]!]
  for (let i = 1; i < nodes.length; i++) {
    const width = edges[i]! - edges[i - 1]!
    const middle = { z: (edges[i]! + edges[i - 1]!) / 2, weight: (4 * width) / 6 }
    nodes[i - 1]!.weight += width / 6
    nodes[i]!.weight += width / 6
    all.push(middle, nodes[i]!)
  }
  return all
}

/** The bound at which a look spends the increment; on the scale of logs the tail is nearly a straight line. */
function solveBound(walk: Walk, fraction: number, increment: number): number {
  let low = 0
  let high = 40
  for (let step = 0; step < 200 && high - low > 1e-12; step++) {
    const middle = (low + high) / 2
    if (walk.tails(fraction, middle) > increment) low = middle
    else high = middle
  }
  return (low + high) / 2
}
