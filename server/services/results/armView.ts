import type { ArmView } from '../../../shared/experiments/resultsReplies'
import type { ArmEstimate, MetricKind } from '../../../core/statistics/estimate'
import type { Moments } from '../../../core/statistics/moments'

/** One arm of a metric as it is shown. */
export function armView(
  kind: MetricKind,
  { count, means }: Moments,
  { mean, variance }: Pick<ArmEstimate, 'mean' | 'variance'>,
): ArmView {
  return {
    visitors: count,
    sum: clean(means[0]! * count),
    denominator: kind === 'ratio' ? clean(means[1]! * count) : 0,
    mean,
    variance,
  }
}

/** The mean times the count is the sum but for the last digits. */
function clean(sum: number): number {
  return Number(sum.toPrecision(12))
}
