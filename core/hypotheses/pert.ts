import betaCdf from '@stdlib/stats-base-dists-beta-cdf'
import betaQuantile from '@stdlib/stats-base-dists-beta-quantile'

/** What somebody expects: hardly less than `low`, hardly more than `high`, most likely `likely`. */
export interface LiftRange {
  low: number
  likely: number
  high: number
}

export interface Pert {
  mean: number
  variance: number
  /** P(X ≤ x) */
  cdf: (x: number) => number
  /** x with P(X ≤ x) = probability, from 0 to 1 */
  quantile: (probability: number) => number
}

/** Weight of the likely value beside the two ends. */
const SHAPE = 4

/**
 * The PERT distribution of an expectation in three points: a beta distribution between the lowest and the highest
 * value whose mean weighs the likely one four times. Three equal points are a value without doubt.
 *
 * @param range - finite numbers, low ≤ likely ≤ high
 * @throws RangeError with a sentence where they are not in that order
 * @example pert({ low: 0, likely: 0.05, high: 0.16 }).mean // 0.06
 * @see Malcolm, Roseboom, Clark, Fazar (1959), Application of a technique for research and development program
 *   evaluation, Operations Research 7, the estimates of the appendix; Vose (2008), Risk analysis, section “PERT”
 */
export function pert({ low, likely, high }: LiftRange): Pert {
  const problem = rangeProblem({ low, likely, high })
  if (problem) throw new RangeError(problem)
  const width = high - low
  if (width === 0) return { mean: low, variance: 0, cdf: (x) => (x >= low ? 1 : 0), quantile: () => low }
  const mean = (low + SHAPE * likely + high) / (SHAPE + 2)
  const first = 1 + (SHAPE * (likely - low)) / width
  const second = 1 + (SHAPE * (high - likely)) / width
  return {
    mean,
    variance: ((mean - low) * (high - mean)) / (SHAPE + 3),
    cdf: (x) => (x <= low ? 0 : x >= high ? 1 : betaCdf((x - low) / width, first, second)),
    quantile: (probability) => low + width * betaQuantile(probability, first, second),
  }
}

/** Why three points are no expectation, in a sentence; null where they are one. */
export function rangeProblem({ low, likely, high }: LiftRange): string | null {
  if (![low, likely, high].every(Number.isFinite)) return 'Give a low, a likely and a high lift.'
  if (low > high) return 'The low lift lies above the high one. Swap them.'
  if (likely < low) return 'The likely lift lies below the low one.'
  if (likely > high) return 'The likely lift lies above the high one.'
  return null
}
