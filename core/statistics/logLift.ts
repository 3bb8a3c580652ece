import type { ArmEstimate } from './estimate'

/**
 * The logarithm of the ratio of two means, and its standard error by the delta method. Ratios of means are compared on
 * this scale: where the same lift comes to groups with other means, their differences are not the same.
 *
 * @returns nulls where a mean is not above zero, or a variance is not known
 * @example logLift({ visitors: 100, mean: 2, variance: 1 }, { visitors: 100, mean: 2, variance: 1 }).estimate // 0
 * @see Katz, Baptista, Azen, Pike (1978), Obtaining confidence intervals for the risk ratio, Biometrics 34, eq. C
 */
export function logLift(
  control: ArmEstimate,
  variant: ArmEstimate,
): { estimate: number | null; standardError: number | null } {
  const relative = ({ visitors, mean, variance }: ArmEstimate) =>
    mean !== null && mean > 0 && variance !== null ? variance / visitors / (mean * mean) : null
  const [ofControl, ofVariant] = [relative(control), relative(variant)]
  if (ofControl === null || ofVariant === null) return { estimate: null, standardError: null }
  return { estimate: Math.log(variant.mean! / control.mean!), standardError: Math.sqrt(ofControl + ofVariant) }
}
