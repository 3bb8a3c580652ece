/**
 * The distribution functions that the statistics use, from `@stdlib`, under one roof:
 * tails are computed as tails, so that a p-value of 1e-40 is 1e-40 and not 0.
 */
import erfc from '@stdlib/math-base-special-erfc'
import gammainc from '@stdlib/math-base-special-gammainc'
import normalQuantileOf from '@stdlib/stats-base-dists-normal-quantile'
import tCdf from '@stdlib/stats-base-dists-t-cdf'
import tQuantileOf from '@stdlib/stats-base-dists-t-quantile'

/** P(Z > z) of the standard normal distribution. */
export function normalUpperTail(z: number): number {
  return erfc(z / Math.SQRT2) / 2
}

/** P(Z ≤ z) of the standard normal distribution. */
export function normalCdf(z: number): number {
  return erfc(-z / Math.SQRT2) / 2
}

/** Density of the standard normal distribution. */
export function normalDensity(z: number): number {
  return Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)
}

/** z with P(Z ≤ z) = probability, 0 < probability < 1. */
export function normalQuantile(probability: number): number {
  return normalQuantileOf(probability, 0, 1)
}

/** P(|T| > |t|) of Student's t distribution with any positive degrees of freedom. */
export function tTwoSidedTail(t: number, degreesOfFreedom: number): number {
  return 2 * tCdf(-Math.abs(t), degreesOfFreedom)
}

/** t with P(T ≤ t) = probability. */
export function tQuantile(probability: number, degreesOfFreedom: number): number {
  return tQuantileOf(probability, degreesOfFreedom)
}

/** P(X > x) of the chi-square distribution. */
export function chiSquareUpperTail(x: number, degreesOfFreedom: number): number {
  if (x <= 0) return 1
  return gammainc(x / 2, degreesOfFreedom / 2, true, true)
}
