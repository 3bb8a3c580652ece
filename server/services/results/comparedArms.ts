import type { MetricResults } from '../../../shared/experiments/resultsReplies'
import type { LookedArm } from '../../../core/verdict/plannedLooks'

/** The arms as the plan compares them, with its adjustment where it has one; null for an arm that has no estimate. */
export function comparedArms({ arms, adjusted }: Pick<MetricResults, 'arms' | 'adjusted'>): (LookedArm | null)[] {
  return arms.map(({ visitors, ...plain }, index) => {
    const { mean, variance } = adjusted?.[index] ?? plain
    return mean === null || variance === null ? null : { visitors, mean, variance }
  })
}
