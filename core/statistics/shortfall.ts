import type { MetricKind } from './estimate'
import { sampleCovariance, sampleVariance, type Moments } from './moments'

/**
 * Most skewness that the difference of two arms may have for its intervals to hold, in units of its own deviation.
 * Chosen by simulation: see *Enough to read* in docs/statistics.md and `./vetch bench calibration`.
 */
export const MOST_SKEWNESS = 0.12
/** Visitors of each arm with something, and of conversions also without, below which no interval is read. */
export const LEAST_ACTIVE = 20

/** Sums over visitors of products of three: of the value y and, of a ratio, of its denominator z. */
export interface ThirdSums {
  yyy: number
  yyz: number
  yzz: number
  zzz: number
}

/** What of an arm tells whether its estimate is near enough to normal. */
export interface ArmShape {
  visitors: number
  /** Visitors whose value is not zero; of a conversion those who converted. */
  active: number
  /** Of one visitor's value; of a ratio, of its linearization. */
  variance: number
  /** Third central moment of the same; null where it is not known. */
  third: number | null
}

/** What is still missing before the comparison of two arms may be read. */
export interface Shortfall {
  arm: 'control' | 'variant'
  what: 'conversions' | 'visitors without a conversion' | 'visitors with a value' | 'visitors'
  has: number
  needs: number
}

/**
 * The shape of an arm from its moments and sums of products of three.
 *
 * @param arm - the metric's value; of a ratio numerator and denominator; further values are passed over
 * @param active - visitors whose value is not zero
 * @param thirds - null where they are not known
 */
export function armShape(kind: MetricKind, arm: Moments, active: number, thirds: ThirdSums | null): ArmShape {
  const { count: visitors, means } = arm
  const mean = means[0] ?? 0
  if (kind === 'conversion') {
    const variance = mean * (1 - mean)
    return { visitors, active, variance, third: variance * (1 - 2 * mean) }
  }
  if (visitors < 2) return { visitors, active, variance: 0, third: null }
  if (kind === 'mean') {
    const square = (sampleVariance(arm) * (visitors - 1)) / visitors + mean * mean
    const third = thirds && thirds.yyy / visitors - 3 * mean * square + 2 * mean ** 3
    return { visitors, active, variance: sampleVariance(arm), third }
  }
  const denominator = means[1]!
  if (denominator === 0) return { visitors, active, variance: 0, third: null }
  const ratio = mean / denominator
  const variance =
    (sampleVariance(arm, 0) - 2 * ratio * sampleCovariance(arm, 0, 1) + ratio * ratio * sampleVariance(arm, 1)) /
    denominator ** 2
  const third =
    thirds &&
    (thirds.yyy - 3 * ratio * thirds.yyz + 3 * ratio ** 2 * thirds.yzz - ratio ** 3 * thirds.zzz) /
      visitors /
      denominator ** 3
  return { visitors, active, variance, third }
}

/**
 * What is missing before two arms may be compared: each needs some visitors with something, and the difference of their
 * means must not be too skewed. Unequal arms make it skewed, since the smaller one dominates it; equal ones cancel.
 *
 * The skewness is that of the difference were there no effect, from the moments of both arms together: the small arm
 * alone would tell too little of itself.
 *
 * @returns null where nothing is missing
 * @see Johnson (1978), Modified t tests and confidence intervals for asymmetrical populations, JASA 73; Cochran (1977),
 *   Sampling techniques, 2.15, for the rule that n must grow with the square of the skewness
 */
export function shortfallOf(kind: MetricKind, control: ArmShape, variant: ArmShape): Shortfall | null {
  return tooFewActive(kind, control, variant) ?? tooSkewed(control, variant)
}

function tooFewActive(kind: MetricKind, control: ArmShape, variant: ArmShape): Shortfall | null {
  let least: Shortfall | null = null
  for (const shape of [control, variant]) {
    const arm = shape === control ? 'control' : 'variant'
    const without = shape.visitors - shape.active
    if (shape.active < (least?.has ?? LEAST_ACTIVE))
      least = {
        arm,
        what: kind === 'conversion' ? 'conversions' : 'visitors with a value',
        has: shape.active,
        needs: LEAST_ACTIVE,
      }
    if (kind === 'conversion' && without < (least?.has ?? LEAST_ACTIVE))
      least = {
        arm,
        what: 'visitors without a conversion',
        has: without,
        needs: LEAST_ACTIVE,
      }
  }
  return least
}

function tooSkewed(control: ArmShape, variant: ArmShape): Shortfall | null {
  if (control.third === null || variant.third === null) return null
  const visitors = control.visitors + variant.visitors
  const pooled = (of: (shape: ArmShape) => number) =>
    (of(control) * control.visitors + of(variant) * variant.visitors) / visitors
  const variance = pooled((shape) => shape.variance)
  const third = pooled((shape) => shape.third!)
  if (!(variance > 0)) return null
  const [inControl, inVariant] = [1 / control.visitors, 1 / variant.visitors]
  const skewness = Math.abs(third * (inVariant ** 2 - inControl ** 2)) / (variance * (inVariant + inControl)) ** 1.5
  if (skewness <= MOST_SKEWNESS) return null
  const arm = control.visitors < variant.visitors ? 'control' : 'variant'
  const has = Math.min(control.visitors, variant.visitors)
  return { arm, what: 'visitors', has, needs: Math.ceil(has * (skewness / MOST_SKEWNESS) ** 2) }
}
