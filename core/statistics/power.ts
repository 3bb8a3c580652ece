import { normalQuantile } from './distributions'

export interface ConversionPowerPlan {
  /** Conversion rate of the control, in (0, 1). */
  baseline: number
  /** Relative lift to be found, not 0, with a rate below 1. */
  lift: number
  /** Two-sided error level. */
  alpha: number
  /** Wanted probability of finding the lift. */
  power: number
  /** Weights of control and variants. */
  weights: readonly number[]
}

/**
 * Visitors needed in each arm to find a lift of a conversion rate, at one look at the end.
 *
 * Two-sample normal formula, pooled variance under the null and unpooled under the alternative,
 * with α split over the variants.
 *
 * @returns whole visitors for each arm, in the order of the weights
 * @throws RangeError for rates outside of (0, 1)
 * @example sampleSizeForConversion({ baseline: 0.05, lift: 0.1, alpha: 0.05, power: 0.8, weights: [1, 1] })
 * // [31234, 31234]
 * @see Fleiss, Levin, Paik (2003), Statistical methods for rates and proportions, eq. 4.14 and 4.18
 */
export function sampleSizeForConversion(plan: ConversionPowerPlan): number[] {
  const { baseline, lift, alpha, power, weights } = plan
  const changed = baseline * (1 + lift)
  if (!(baseline > 0 && baseline < 1)) throw new RangeError('The baseline rate must lie between 0 and 1.')
  if (!(changed > 0 && changed < 1) || lift === 0) throw new RangeError('The lifted rate must differ from the baseline and lie between 0 and 1.')
  const controlWeight = weights[0]!
  const smallest = Math.min(...weights.slice(1))
  const ratio = smallest / controlWeight
  const pooled = (baseline + ratio * changed) / (1 + ratio)
  const zAlpha = normalQuantile(1 - alpha / (2 * (weights.length - 1)))
  const zPower = normalQuantile(power)
  const root =
    zAlpha * Math.sqrt(pooled * (1 - pooled) * (1 + 1 / ratio)) +
    zPower * Math.sqrt(baseline * (1 - baseline) + (changed * (1 - changed)) / ratio)
  const controlVisitors = (root / (changed - baseline)) ** 2
  return weights.map((weight) => Math.ceil((controlVisitors * weight) / controlWeight))
}
