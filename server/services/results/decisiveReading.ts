import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { VariantComparison } from '../../../core/analysis/analysis'
import { decisiveMethod, liftBy } from '../../../core/analysis/readings'
import type { LiftEstimate } from '../../../core/statistics/compareArms'

/** The lift by the plan's rule; before a plan's first look the lift of now, without an interval. */
export function decisiveLift({ plan }: Pick<ExperimentSheet, 'plan'>, comparison: VariantComparison): LiftEstimate {
  const read = liftBy(comparison, decisiveMethod(plan.rule))
  return { ...read, estimate: read.estimate ?? comparison.lift.estimate }
}
