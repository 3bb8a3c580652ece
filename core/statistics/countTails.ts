import betaCdf from '@stdlib/stats-base-dists-beta-cdf'

/** How many are expected, and how far counts like it go apart beside chance: the relative deviation of what is behind them. */
export interface ExpectedCount {
  /** Above 0. */
  mean: number
  /** At least 0; 0 where counts are as chance alone makes them. */
  spread: number
}

/** With less of it a negative binomial is a Poisson distribution as far as anybody can see. */
const LEAST_SPREAD = 1e-4

/**
 * Probability of so few, or fewer, by the negative binomial distribution: counts whose mean varies by a relative deviation.
 *
 * @param count - a whole number, at least 0
 * @example probabilityOfAtMost(0, { mean: 5, spread: 0 }) // exp(-5), about 0.0067
 * @see Johnson, Kemp, Kotz (2005), Univariate discrete distributions, eq. 5.31
 */
export function probabilityOfAtMost(count: number, expected: ExpectedCount): number {
  const { size, success } = negativeBinomial(expected)
  return betaCdf(success, size, count + 1)
}

/** Probability of so many, or more. */
export function probabilityOfAtLeast(count: number, expected: ExpectedCount): number {
  if (count <= 0) return 1
  const { size, success } = negativeBinomial(expected)
  return betaCdf(1 - success, count, size)
}

function negativeBinomial({ mean, spread }: ExpectedCount): { size: number; success: number } {
  const size = 1 / Math.max(LEAST_SPREAD, spread) ** 2
  return { size, success: size / (size + mean) }
}

/**
 * Probability of at least so many of some that each are one with a given share, by the binomial distribution.
 *
 * @param of - a whole number, at least `count`
 * @param share - in (0, 1)
 * @example shareOfAtLeast(2, 2, 0.5) // 0.25
 */
export function shareOfAtLeast(count: number, of: number, share: number): number {
  return count <= 0 ? 1 : betaCdf(share, count, of - count + 1)
}
