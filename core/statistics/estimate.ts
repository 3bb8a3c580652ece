import { sampleCovariance, sampleVariance, type Moments } from './moments'

/** How visitors' values make one number: a share, a mean of a value, or a quotient of two sums. */
export type MetricKind = 'conversion' | 'mean' | 'ratio'

/** Number of values a visitor that a metric of this kind is computed from. */
export const VALUES_OF_KIND = { conversion: 1, mean: 1, ratio: 2 } as const satisfies Record<MetricKind, number>

/** One arm's metric. A number that the data cannot give is null, with the reason in `why`. */
export interface ArmEstimate {
  visitors: number
  /** Conversion rate, mean, or Σy/Σz. */
  mean: number | null
  /** Variance of one visitor's value; divided by the visitors it is that of the mean. */
  variance: number | null
  why?: string
}

export const NO_VISITORS = 'An arm has no visitors yet.'
export const ONE_VISITOR = 'An arm has a single visitor, so its variance is unknown.'
export const NO_DENOMINATOR = 'The denominator of the ratio is zero.'

/**
 * An arm's metric and the variance of one visitor's value.
 *
 * - conversion: p and p(1 − p)
 * - mean: m and the unbiased s²
 * - ratio of the first value's sum to the second's: R = Σy/Σz and, by the delta method,
 *   (s²_y − 2R·s_yz + R²·s²_z)/z̄²
 *
 * @param kind - what the moments hold: one value a visitor, or numerator and denominator
 * @param arm - moments of the arm; further values are passed over
 * @example estimateArm('conversion', conversionMoments(200, 30)) // { visitors: 200, mean: 0.15, variance: 0.1275 }
 * @see Deng, Knoblich, Lu (2018), Applying the delta method in metric analytics, eq. 3
 */
export function estimateArm(kind: MetricKind, arm: Moments): ArmEstimate {
  const visitors = arm.count
  if (visitors === 0) return { visitors, mean: null, variance: null, why: NO_VISITORS }
  const mean = arm.means[0]!
  if (kind === 'conversion') return { visitors, mean, variance: mean * (1 - mean) }
  if (kind === 'mean')
    return visitors > 1
      ? { visitors, mean, variance: sampleVariance(arm) }
      : { visitors, mean, variance: null, why: ONE_VISITOR }
  const denominator = arm.means[1]!
  if (denominator === 0) return { visitors, mean: null, variance: null, why: NO_DENOMINATOR }
  const ratio = mean / denominator
  if (visitors === 1) return { visitors, mean: ratio, variance: null, why: ONE_VISITOR }
  const spread =
    sampleVariance(arm, 0) - 2 * ratio * sampleCovariance(arm, 0, 1) + ratio * ratio * sampleVariance(arm, 1)
  return { visitors, mean: ratio, variance: Math.max(0, spread) / (denominator * denominator) }
}
