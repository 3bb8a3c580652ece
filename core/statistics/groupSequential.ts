import { normalQuantile, normalUpperTail } from './distributions'
import { risingRoot } from './rootFinding'
import { startWalk, type ScoreWalk } from './scoreWalk'
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
 * @param grid - of the recursion, see `startWalk`
 * @returns one value a look; Infinity where nothing is spent
 * @throws RangeError when the fractions do not ascend within (0, 1]
 * @example
 * const fractions = [0.2, 0.4, 0.6, 0.8, 1]
 * spendingBoundaries(fractions, fractions.map((t) => alphaSpent('pocock', t, 0.05)))
 * // about [2.438, 2.427, 2.410, 2.397, 2.386]
 * @see Armitage, McPherson, Rowe (1969), Repeated significance tests on accumulating data, J. Royal Stat. Soc. A 132;
 *   Jennison, Turnbull (2000), chapter 19 for the grid
 */
export function spendingBoundaries(
  fractions: readonly number[],
  cumulativeAlpha: readonly number[],
  grid?: number,
): number[] {
  checkFractions(fractions)
  const walk = startWalk(0, undefined, grid)
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
    crossed += tails(walk, fraction, bounds[look]!)
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

/** Probability of crossing ±bound at a look, not having crossed before. */
function tails(walk: ScoreWalk, fraction: number, bound: number): number {
  return walk.above(fraction, bound) + walk.below(fraction, -bound)
}

/** The bound at which a look spends the increment; on the scale of logs the tail is nearly a parabola. */
function solveBound(walk: ScoreWalk, fraction: number, increment: number): number {
  const wanted = Math.log(increment)
  const guess = -normalQuantile(Math.min(increment, 0.999) / 2)
  return risingRoot((z) => wanted - Math.log(tails(walk, fraction, z)), guess, 1 / (guess + 1), 1e-11)
}
