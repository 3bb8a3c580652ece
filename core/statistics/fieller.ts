/**
 * Confidence interval of the relative lift m₁/m₀ − 1 of two independent means.
 *
 * @param control - mean of the control and the variance of that mean
 * @param variant - mean of the variant and the variance of that mean
 * @param quantile - two-sided quantile, e.g. 1.96 for 95 %
 * @returns low and high end, or null where the control's mean is not distinguishable from zero
 *   and the interval is unbounded
 * @example fiellerInterval({ mean: 0.1, variance: 9e-6 }, { mean: 0.12, variance: 1.056e-5 }, 1.96)
 * // about [0.11, 0.30]
 * @see Fieller (1954), Some problems in interval estimation, J. Royal Stat. Soc. B 16
 */
export function fiellerInterval(
  control: { mean: number; variance: number },
  variant: { mean: number; variance: number },
  quantile: number,
): [number, number] | null {
  if (control.mean === 0) return null
  const ratio = variant.mean / control.mean
  const g = (quantile * quantile * control.variance) / (control.mean * control.mean)
  if (!(g < 1)) return null
  const spread = variant.variance * (1 - g) + ratio * ratio * control.variance
  const half = (quantile / Math.abs(control.mean)) * Math.sqrt(spread)
  return [(ratio - half) / (1 - g) - 1, (ratio + half) / (1 - g) - 1]
}
