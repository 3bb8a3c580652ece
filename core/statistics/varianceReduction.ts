import { estimateArm, VALUES_OF_KIND, type ArmEstimate, type MetricKind } from './estimate'
import { comoment, mergeMoments, noMoments, sampleCovariance, sampleVariance, type Moments } from './moments'
import {
  differenceEstimate,
  twoSidedPValue,
  twoSidedQuantile,
  welchDegreesOfFreedom,
  type DifferenceEstimate,
} from './compareArms'

/** An arm's estimates before and after the adjustment, both with unbiased variances. */
interface AdjustedArm {
  plain: ArmEstimate
  adjusted: ArmEstimate
}

export interface CovariateAdjustment {
  /** Slope of the metric on the covariate; 0 where the covariate says nothing. */
  theta: number
  /** In the order of the arms given. */
  arms: AdjustedArm[]
  why?: string
}

export interface VarianceReduction {
  theta: number
  /** Share of the difference's variance that the adjustment removes. */
  shareRemoved: number | null
  difference: DifferenceEstimate
  pValue: number | null
  why?: string
}

/**
 * Takes out of each arm what a covariate from before the exposure explains (CUPED).
 *
 * θ is the pooled within-arm covariance over the pooled within-arm variance of the covariate; adjusted means are
 * m − θ(x̄ₖ − x̄), adjusted variances s²_y − 2θ·s_xy + θ²·s²_x. A ratio is adjusted through its linearization
 * (y − R·z)/z̄.
 *
 * @param kind - of the metric
 * @param arms - moments of the metric's values and, last, the covariate
 * @returns θ and the arms' estimates; with a reason and unchanged where the covariate is constant
 * @see Deng, Xu, Kohavi, Walker (2013), Improving the sensitivity of online controlled experiments, eq. 4–6
 */
export function adjustForCovariate(kind: MetricKind, arms: readonly Moments[]): CovariateAdjustment {
  const x = VALUES_OF_KIND[kind]
  const plain = arms.map((arm) => unbiasedEstimate(kind, arm))
  const spread = arms.reduce((sum, arm) => sum + comoment(arm, x, x), 0)
  if (!(spread > 0)) {
    return {
      theta: 0,
      arms: plain.map((each) => ({ plain: each, adjusted: each })),
      why: 'The covariate is the same for all visitors, so nothing changes.',
    }
  }
  const shared = arms.reduce((sum, arm) => sum + linearizedCovariance(kind, arm) * Math.max(0, arm.count - 1), 0)
  const theta = shared / spread
  const visitors = arms.reduce((sum, arm) => sum + arm.count, 0)
  const overall = arms.reduce((sum, arm) => sum + arm.means[x]! * arm.count, 0) / visitors
  return {
    theta,
    arms: arms.map((arm, index) => {
      const own = plain[index]!
      if (own.mean === null || own.variance === null) return { plain: own, adjusted: own }
      const variance =
        own.variance - 2 * theta * linearizedCovariance(kind, arm) + theta * theta * sampleVariance(arm, x)
      return {
        plain: own,
        adjusted: { ...own, mean: own.mean - theta * (arm.means[x]! - overall), variance: Math.max(0, variance) },
      }
    }),
  }
}

/**
 * One variant against the control after the adjustment: Welch's t test for means, z test otherwise.
 *
 * @param adjustment - of all arms
 * @param control - position of the control among them
 * @param variant - position of the variant
 */
export function compareAdjusted(
  kind: MetricKind,
  adjustment: CovariateAdjustment,
  control: number,
  variant: number,
  alpha: number,
): VarianceReduction {
  const [from, to] = [adjustment.arms[control]!, adjustment.arms[variant]!]
  const reason = adjustment.why === undefined ? {} : { why: adjustment.why }
  const [first, second] = [from.adjusted, to.adjusted]
  if (first.mean === null || second.mean === null || first.variance === null || second.variance === null) {
    const why = first.why ?? second.why ?? ''
    return {
      theta: adjustment.theta,
      shareRemoved: null,
      difference: { estimate: null, standardError: null, interval: null, why },
      pValue: null,
      why,
    }
  }
  const variances = [first.variance / first.visitors, second.variance / second.visitors] as const
  const before = from.plain.variance! / from.plain.visitors + to.plain.variance! / to.plain.visitors
  const after = variances[0] + variances[1]
  const degreesOfFreedom =
    kind === 'mean' ? welchDegreesOfFreedom(variances[0], first.visitors, variances[1], second.visitors) : null
  const estimate = second.mean - first.mean
  return {
    theta: adjustment.theta,
    shareRemoved: before > 0 ? 1 - after / before : null,
    difference: differenceEstimate(estimate, Math.sqrt(after), twoSidedQuantile(alpha, degreesOfFreedom)),
    pValue: twoSidedPValue(estimate, Math.sqrt(after), degreesOfFreedom),
    ...reason,
  }
}

/**
 * Visitors with a past and without one together, the latter with the mean of the covariate, so that they neither
 * add to θ nor move the adjusted mean.
 *
 * @param withPast - moments of each arm's visitors who have the covariate, which stands last
 * @param withoutPast - moments of each arm's other visitors, without the covariate
 */
export function fillCovariate(withPast: readonly Moments[], withoutPast: readonly Moments[]): Moments[] {
  const size = withPast[0]!.means.length
  const past = withPast.reduce((sum, arm) => sum + arm.count, 0)
  const overall = past === 0 ? 0 : withPast.reduce((sum, arm) => sum + arm.means[size - 1]! * arm.count, 0) / past
  return withPast.map((arm, index) => {
    const other = withoutPast[index]!
    if (other.count === 0) return arm
    const filled = { ...noMoments(size), count: other.count, means: [...other.means, overall] }
    filled.comoments.splice(0, other.comoments.length, ...other.comoments)
    return mergeMoments(arm, filled)
  })
}

function unbiasedEstimate(kind: MetricKind, arm: Moments): ArmEstimate {
  return estimateArm(kind === 'conversion' ? 'mean' : kind, arm)
}

/** Sample covariance of the metric's (linearized) value with the covariate. */
function linearizedCovariance(kind: MetricKind, arm: Moments): number {
  const x = VALUES_OF_KIND[kind]
  if (kind !== 'ratio') return sampleCovariance(arm, 0, x)
  const denominator = arm.means[1]!
  if (denominator === 0) return 0
  return (sampleCovariance(arm, 0, x) - (arm.means[0]! / denominator) * sampleCovariance(arm, 1, x)) / denominator
}
