import { normalQuantile, normalUpperTail, tQuantile, tTwoSidedTail } from './distributions'
import { NO_VISITORS, type ArmEstimate, type MetricKind } from './estimate'
import { fiellerInterval } from './fieller'
import {
  compareWithLiftPrior,
  comparePosteriors,
  posteriorOf,
  type Direction,
  type LiftPrior,
  type PosteriorComparison,
} from './posterior'
import { mixtureParameter, sequentialHalfWidth, sequentialPValue } from './sequential'

export type Interval = [number, number]

/** A number that the data cannot give is null and carries the reason in its place. */
export interface LiftEstimate {
  estimate: number | null
  interval: Interval | null
  why?: string
}

export interface DifferenceEstimate extends LiftEstimate {
  standardError: number | null
}

/** One variant against the control, for one metric. Intervals are at 1 − alpha. */
export interface Comparison {
  difference: DifferenceEstimate
  lift: LiftEstimate
  /** Two-sided, for one look at a planned end. */
  pValue: number | null
  /** Of Welch's t test; null where a normal quantile is used. */
  degreesOfFreedom: number | null
  sequential: SequentialReading
  posterior: PosteriorComparison
}

/** What holds at every look, however often one looks. */
export interface SequentialReading {
  interval: Interval | null
  lift: LiftEstimate
  pValue: number | null
  why?: string
}

export interface ComparisonPlan {
  kind: MetricKind
  /** Two-sided error level in (0, 1). */
  alpha: number
  /** Visitors expected at the planned end in the control and in the variant. */
  plannedVisitors: { control: number; variant: number }
  /**
   * Share of the planned information that there is, where the variance of the difference does not tell: of a run whose
   * weights move, that of the planned visitors.
   */
  share?: number
  /** Whether more or less is better; 'up' where left out. */
  direction?: Direction
  /** Belief about relative lifts before the data; every lift is as likely as any other where left out. */
  liftPrior?: LiftPrior
}

const NO_VARIATION = 'Within each arm, all visitors have the same value so far.'
const NO_LIFT_BOUNDS = 'The control’s mean cannot be told from zero yet, so a relative lift has no bounds.'
const ZERO_CONTROL = 'The control’s mean is zero, so there is no relative lift.'

/**
 * Compares a variant with the control from their estimates.
 *
 * - fixed horizon: pooled two-proportion z test for conversions, Welch's t test for means, z test for ratios;
 *   intervals from the unpooled variances with the same quantile
 * - sequential: confidence sequence and p-value from the normal mixture, tuned to the planned visitors
 * - posterior: exact Beta for conversions, normal otherwise
 *
 * @param control - estimate of the control
 * @param variant - estimate of the variant
 * @returns every reading of the comparison, each null with a reason where the data cannot give it
 * @see Welch (1947), The generalization of Student's problem, Biometrika 34; Fieller (1954) for relative lifts;
 *   docs/statistics.md for each formula
 */
export function compareArms(control: ArmEstimate, variant: ArmEstimate, plan: ComparisonPlan): Comparison {
  const why = control.why ?? variant.why ?? (control.visitors === 0 || variant.visitors === 0 ? NO_VISITORS : undefined)
  if (control.mean === null || variant.mean === null) return emptyComparison(null, null, why)
  const estimate = variant.mean - control.mean
  if (control.variance === null || variant.variance === null)
    return emptyComparison(estimate, liftEstimate(control.mean, variant.mean), why)

  const { kind, alpha } = plan
  const ofControl = { mean: control.mean, variance: control.variance / control.visitors }
  const ofVariant = { mean: variant.mean, variance: variant.variance / variant.visitors }
  const variance = ofControl.variance + ofVariant.variance
  const standardError = Math.sqrt(variance)
  const degreesOfFreedom =
    kind === 'mean'
      ? welchDegreesOfFreedom(ofControl.variance, control.visitors, ofVariant.variance, variant.visitors)
      : null
  const quantile = twoSidedQuantile(alpha, degreesOfFreedom)
  return {
    difference: differenceEstimate(estimate, standardError, quantile),
    lift: liftOf(ofControl, ofVariant, quantile),
    pValue:
      kind === 'conversion'
        ? pooledPValue(ofControl.mean, control.visitors, ofVariant.mean, variant.visitors)
        : twoSidedPValue(estimate, standardError, degreesOfFreedom),
    degreesOfFreedom,
    sequential: sequentialReading(
      { mean: control.mean, variance: control.variance, visitors: control.visitors },
      { mean: variant.mean, variance: variant.variance, visitors: variant.visitors },
      plan,
    ),
    posterior: posteriorReading(control, variant, plan),
  }
}

interface VaryingArm {
  mean: number
  variance: number
  visitors: number
}

/**
 * The always-valid reading alone: cheap enough for every day of thousands of rehearsed runs.
 *
 * @param control - mean, variance of one visitor's value, and visitors
 * @param variant - the same
 * @see Waudby-Smith et al. (2021), Time-uniform central limit theory, eq. 12
 */
export function sequentialReading(
  control: VaryingArm,
  variant: VaryingArm,
  plan: Pick<ComparisonPlan, 'alpha' | 'plannedVisitors' | 'share'>,
): SequentialReading {
  const ofControl = { mean: control.mean, variance: control.variance / control.visitors }
  const ofVariant = { mean: variant.mean, variance: variant.variance / variant.visitors }
  const variance = ofControl.variance + ofVariant.variance
  const plannedVariance =
    plan.share === undefined
      ? control.variance / plan.plannedVisitors.control + variant.variance / plan.plannedVisitors.variant
      : variance * plan.share
  if (!(variance > 0) || !(plannedVariance > 0)) {
    return {
      interval: null,
      lift: { estimate: liftEstimate(control.mean, variant.mean), interval: null, why: NO_VARIATION },
      pValue: null,
      why: NO_VARIATION,
    }
  }
  const estimate = variant.mean - control.mean
  const rho = mixtureParameter(1 / plannedVariance, plan.alpha)
  const half = sequentialHalfWidth(1 / variance, rho, plan.alpha)
  return {
    interval: around(estimate, half),
    lift: liftOf(ofControl, ofVariant, half / Math.sqrt(variance)),
    pValue: sequentialPValue(estimate, 1 / variance, rho),
  }
}

/** The difference with its interval; no interval where nothing varies, since one of no width would claim certainty. */
export function differenceEstimate(estimate: number, standardError: number, quantile: number): DifferenceEstimate {
  if (standardError === 0) return { estimate, standardError, interval: null, why: NO_VARIATION }
  return { estimate, standardError, interval: around(estimate, quantile * standardError) }
}

/** Quantile for a two-sided interval: Student's t with degrees of freedom, normal without. */
export function twoSidedQuantile(alpha: number, degreesOfFreedom: number | null): number {
  return degreesOfFreedom === null ? normalQuantile(1 - alpha / 2) : tQuantile(1 - alpha / 2, degreesOfFreedom)
}

/** p-value of an estimate against zero: Student's t with degrees of freedom, normal without; null where nothing varies. */
export function twoSidedPValue(
  estimate: number,
  standardError: number,
  degreesOfFreedom: number | null,
): number | null {
  if (standardError === 0) return null
  return degreesOfFreedom === null
    ? 2 * normalUpperTail(Math.abs(estimate) / standardError)
    : tTwoSidedTail(estimate / standardError, degreesOfFreedom)
}

/**
 * Welch–Satterthwaite degrees of freedom from the variances of two means; null where neither varies.
 *
 * @see Satterthwaite (1946), An approximate distribution of estimates of variance components, Biometrics 2
 */
export function welchDegreesOfFreedom(
  firstVariance: number,
  firstVisitors: number,
  secondVariance: number,
  secondVisitors: number,
): number | null {
  // Shares instead of squares, which would vanish for tiny variances.
  const total = firstVariance + secondVariance
  if (!(total > 0)) return null
  const share = firstVariance / total
  return 1 / ((share * share) / (firstVisitors - 1) + ((1 - share) * (1 - share)) / (secondVisitors - 1))
}

function posteriorReading(
  control: ArmEstimate,
  variant: ArmEstimate,
  { kind, alpha, direction, liftPrior }: ComparisonPlan,
): PosteriorComparison {
  // Of values that never vary the normal likelihood would be certain. Rates are not: their posterior is exact.
  if (kind !== 'conversion' && control.variance === 0 && variant.variance === 0)
    return { ...NO_POSTERIOR, why: NO_VARIATION }
  if (liftPrior && control.mean !== 0) {
    return compareWithLiftPrior(
      { mean: control.mean!, variance: control.variance! / control.visitors },
      { mean: variant.mean!, variance: variant.variance! / variant.visitors },
      liftPrior,
      alpha,
      direction,
    )
  }
  return comparePosteriors(posteriorOf(kind, control)!, posteriorOf(kind, variant)!, alpha, direction)
}

function emptyComparison(difference: number | null, lift: number | null, why: string | undefined): Comparison {
  const reason = why === undefined ? {} : { why }
  return {
    difference: { estimate: difference, standardError: null, interval: null, ...reason },
    lift: { estimate: lift, interval: null, ...reason },
    pValue: null,
    degreesOfFreedom: null,
    sequential: { interval: null, lift: { estimate: lift, interval: null, ...reason }, pValue: null, ...reason },
    posterior: { ...NO_POSTERIOR, ...reason },
  }
}

const NO_POSTERIOR = {
  probabilityBetter: null,
  expectedLoss: null,
  expectedLossOfControl: null,
  liftInterval: null,
}

function around(center: number, half: number): Interval {
  return [center - half, center + half]
}

function liftEstimate(control: number, variant: number): number | null {
  return control === 0 ? null : variant / control - 1
}

function liftOf(
  control: { mean: number; variance: number },
  variant: { mean: number; variance: number },
  quantile: number,
): LiftEstimate {
  const estimate = liftEstimate(control.mean, variant.mean)
  if (estimate === null) return { estimate, interval: null, why: ZERO_CONTROL }
  if (control.variance + variant.variance === 0) return { estimate, interval: null, why: NO_VARIATION }
  const interval = fiellerInterval(control, variant, quantile)
  return interval ? { estimate, interval } : { estimate, interval, why: NO_LIFT_BOUNDS }
}

function pooledPValue(
  controlRate: number,
  controlVisitors: number,
  variantRate: number,
  variantVisitors: number,
): number | null {
  const pooled = (controlRate * controlVisitors + variantRate * variantVisitors) / (controlVisitors + variantVisitors)
  const error = Math.sqrt(pooled * (1 - pooled) * (1 / controlVisitors + 1 / variantVisitors))
  return error > 0 ? 2 * normalUpperTail(Math.abs(variantRate - controlRate) / error) : null
}
