import type { Interval } from '../statistics/compareArms'
import type { VariantComparison } from './analysis'

/** By what a comparison is read: always valid, for one look at the planned end, or as a posterior. */
export const READINGS = ['sequential', 'fixed', 'bayesian'] as const
export type ReadingMethod = (typeof READINGS)[number]

/** The interval of the lift by a method; null where the data cannot give one. */
export function liftInterval(comparison: VariantComparison, method: ReadingMethod): Interval | null {
  if (method === 'bayesian') return comparison.posterior.liftInterval
  return method === 'fixed' ? comparison.lift.interval : comparison.sequential.lift.interval
}

/** Why a method gives no interval. */
export function missingReason(comparison: VariantComparison, method: ReadingMethod): string {
  const { why } =
    method === 'bayesian' ? comparison.posterior : method === 'fixed' ? comparison.lift : comparison.sequential.lift
  return why ?? 'There is no interval yet.'
}
