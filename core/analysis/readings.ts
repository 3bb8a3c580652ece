import type { Interval, LiftEstimate } from '../statistics/compareArms'
import type { DecisionRule } from '../verdict/verdict'
import type { VariantComparison } from './analysis'

/** By what a comparison is read: at the looks of its plan, always valid, for one look at the end, or as a posterior. */
export const READINGS = ['spending', 'sequential', 'fixed', 'bayesian'] as const
export type ReadingMethod = (typeof READINGS)[number]

/** The reading that a rule decides by. */
export function decisiveMethod(rule: DecisionRule): Exclude<ReadingMethod, 'bayesian'> {
  return rule === 'low-risk' ? 'sequential' : rule
}

const NO_LOOK: LiftEstimate = {
  estimate: null,
  interval: null,
  why: 'There is an interval once the plan’s first look was taken.',
}

/** The interval of the lift by a method; null where the data cannot give one. */
export function liftInterval(comparison: VariantComparison, method: ReadingMethod): Interval | null {
  return method === 'bayesian' ? comparison.posterior.liftInterval : liftBy(comparison, method).interval
}

/** Why a method gives no interval. */
export function missingReason(comparison: VariantComparison, method: ReadingMethod): string {
  const { why } = method === 'bayesian' ? comparison.posterior : liftBy(comparison, method)
  return why ?? 'There is no interval yet.'
}

/** p-value by a method; of metrics that the plan takes no looks at, the one that holds at every look. */
export function pValueBy(comparison: VariantComparison, method: Exclude<ReadingMethod, 'bayesian'>): number | null {
  if (method === 'fixed') return comparison.pValue
  if (method === 'spending' && comparison.planned !== undefined) return comparison.planned?.pValue ?? null
  return comparison.sequential.pValue
}

/** The interval of the difference by a method, like the lift's. */
export function differenceIntervalBy(
  comparison: VariantComparison,
  method: Exclude<ReadingMethod, 'bayesian'>,
): Interval | null {
  if (method === 'fixed') return comparison.difference.interval
  if (method === 'spending' && comparison.planned !== undefined) return comparison.planned?.interval ?? null
  return comparison.sequential.interval
}

/** The lift by a method; of metrics that the plan takes no looks at, the one that holds at every look. */
export function liftBy(comparison: VariantComparison, method: Exclude<ReadingMethod, 'bayesian'>): LiftEstimate {
  if (method === 'fixed') return comparison.lift
  if (method === 'spending' && comparison.planned !== undefined) return comparison.planned?.lift ?? NO_LOOK
  return comparison.sequential.lift
}
