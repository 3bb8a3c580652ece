import { normalQuantile, normalUpperTail, tQuantile, tTwoSidedTail } from './distributions'
import { fiellerInterval } from './fieller'
import { sampleVariance, type Moments } from './moments'
import { comparePosteriors, conversionPosterior, type Posterior, type PosteriorComparison } from './posterior'
import { mixtureParameter, sequentialHalfWidth, sequentialPValue } from './sequential'

export type Interval = [number, number]

/** A number that the data cannot give carries the reason in its place. */
export interface LiftEstimate {
  estimate: number | null
  interval: Interval | null
  why?: string
}

/** One variant against the control, for one metric. Intervals are at 1 − alpha. */
export interface Comparison {
  difference: { estimate: number; standardError: number; interval: Interval }
  lift: LiftEstimate
  /** Two-sided, for one look at a planned end. */
  pValue: number
  /** Of Welch's t test; null where a normal quantile is used. */
  degreesOfFreedom: number | null
  /** Valid at every look. */
  sequential: { interval: Interval | null; lift: LiftEstimate; pValue: number; why?: string }
  posterior: PosteriorComparison
}

export interface ComparisonPlan {
  kind: 'conversion' | 'mean'
  /** Two-sided error level in (0, 1). */
  alpha: number
  /** Visitors expected at the planned end in the control and in the variant. */
  plannedVisitors: { control: number; variant: number }
}

/** Variance of one visitor's value: p(1 − p) for a conversion, s² for a mean. */
export function valueVariance(kind: ComparisonPlan['kind'], arm: Moments): number {
  return kind === 'conversion' ? arm.mean * (1 - arm.mean) : sampleVariance(arm)
}

/**
 * Compares a variant with the control from their sufficient statistics.
 *
 * @param control - moments of the control's visitors
 * @param variant - moments of the variant's visitors
 * @returns every reading of the comparison, or null while an arm has no visitor
 * @see Welch (1947) for means; the pooled two-proportion z test for conversions;
 *   docs/statistics.md for each formula
 */
export function compareArms(control: Moments, variant: Moments, plan: ComparisonPlan): Comparison | null {
  if (control.count === 0 || variant.count === 0) return null
  const { kind, alpha } = plan
  const controlValue = valueVariance(kind, control)
  const variantValue = valueVariance(kind, variant)
  const controlMean = { mean: control.mean, variance: controlValue / control.count }
  const variantMean = { mean: variant.mean, variance: variantValue / variant.count }
  const estimate = variant.mean - control.mean
  const variance = controlMean.variance + variantMean.variance
  const standardError = Math.sqrt(variance)

  const degreesOfFreedom = kind === 'mean' ? welchDegreesOfFreedom(control, variant, controlMean.variance, variantMean.variance) : null
  const quantile = degreesOfFreedom === null ? normalQuantile(1 - alpha / 2) : tQuantile(1 - alpha / 2, degreesOfFreedom)

  return {
    difference: { estimate, standardError, interval: around(estimate, quantile * standardError) },
    lift: liftOf(controlMean, variantMean, quantile),
    pValue: kind === 'conversion' ? pooledPValue(control, variant) : meanPValue(estimate, standardError, degreesOfFreedom),
    degreesOfFreedom,
    sequential: sequentialReading(),
    posterior: comparePosteriors(posteriorOf(kind, control), posteriorOf(kind, variant), alpha),
  }

  function sequentialReading(): Comparison['sequential'] {
    const plannedVariance = controlValue / plan.plannedVisitors.control + variantValue / plan.plannedVisitors.variant
    if (!(variance > 0) || !(plannedVariance > 0)) {
      const why = 'All visitors have the same value so far.'
      return { interval: null, lift: { estimate: liftEstimate(controlMean.mean, variantMean.mean), interval: null, why }, pValue: 1, why }
    }
    const rho = mixtureParameter(1 / plannedVariance, alpha)
    const half = sequentialHalfWidth(1 / variance, rho, alpha)
    return {
      interval: around(estimate, half),
      lift: liftOf(controlMean, variantMean, half / standardError),
      pValue: sequentialPValue(estimate, 1 / variance, rho),
    }
  }
}

/** Posterior of one arm's mean: exact Beta for conversions, the normal likelihood of the mean otherwise. */
export function posteriorOf(kind: ComparisonPlan['kind'], arm: Moments): Posterior {
  if (kind === 'conversion') return conversionPosterior(arm.count, arm.mean * arm.count)
  return { family: 'normal', mean: arm.mean, variance: arm.count > 0 ? sampleVariance(arm) / arm.count : 0 }
}

function around(center: number, half: number): Interval {
  return [center - half, center + half]
}

function liftEstimate(control: number, variant: number): number | null {
  return control === 0 ? null : variant / control - 1
}

function liftOf(control: { mean: number; variance: number }, variant: { mean: number; variance: number }, quantile: number): LiftEstimate {
  const estimate = liftEstimate(control.mean, variant.mean)
  const interval = fiellerInterval(control, variant, quantile)
  if (interval) return { estimate, interval }
  return { estimate, interval, why: 'The control’s mean cannot be told from zero yet, so a relative lift has no bounds.' }
}

function pooledPValue(control: Moments, variant: Moments): number {
  const pooled = (control.mean * control.count + variant.mean * variant.count) / (control.count + variant.count)
  const error = Math.sqrt(pooled * (1 - pooled) * (1 / control.count + 1 / variant.count))
  return error === 0 ? 1 : 2 * normalUpperTail(Math.abs(variant.mean - control.mean) / error)
}

function meanPValue(estimate: number, standardError: number, degreesOfFreedom: number | null): number {
  if (standardError === 0) return estimate === 0 ? 1 : 0
  return degreesOfFreedom === null
    ? 2 * normalUpperTail(Math.abs(estimate) / standardError)
    : tTwoSidedTail(estimate / standardError, degreesOfFreedom)
}

/** Welch–Satterthwaite; null where an arm has fewer than two visitors or neither varies. */
function welchDegreesOfFreedom(control: Moments, variant: Moments, controlVariance: number, variantVariance: number): number | null {
  if (control.count < 2 || variant.count < 2) return null
  const denominator = controlVariance ** 2 / (control.count - 1) + variantVariance ** 2 / (variant.count - 1)
  return denominator > 0 ? (controlVariance + variantVariance) ** 2 / denominator : null
}
