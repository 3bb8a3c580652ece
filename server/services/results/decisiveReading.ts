import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { VariantComparison } from '../../../core/analysis/analysis'
import type { LiftEstimate } from '../../../core/statistics/compareArms'

/** The reading that the plan's rule decides by. */
export function decisiveReading({ plan }: Pick<ExperimentSheet, 'plan'>): 'fixed' | 'sequential' {
  return plan.rule === 'fixed' ? 'fixed' : 'sequential'
}

export function decisiveLift(sheet: Pick<ExperimentSheet, 'plan'>, comparison: VariantComparison): LiftEstimate {
  return decisiveReading(sheet) === 'fixed' ? comparison.lift : comparison.sequential.lift
}
