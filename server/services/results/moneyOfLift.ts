import { DAY } from '../../../core/time/units'
import { visitorsAMonth } from '../../../core/verdict/monthlyGain'
import { isMoney } from '../../../shared/formats'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { ExperimentResults } from '../../../shared/experiments/resultsReplies'

/**
 * What the lift of the primary metric is multiplied by for its money in a month: of a unit what the metric itself counts,
 * else what the team says, else what the control's orders brought in another metric.
 *
 * @param unitValues - what the team says that a unit brings, by metric
 */
export function moneyOfLift(
  { share, startedAt, endedAt }: ExperimentSheet,
  { metrics, visitors }: Pick<ExperimentResults, 'metrics' | 'visitors'>,
  unitValues: Readonly<Record<string, number>>,
  now: Date,
): ExperimentResults['money'] {
  const [primary] = metrics
  const until = endedAt ? Date.parse(endedAt) : now.getTime()
  const days = startedAt ? (until - Date.parse(startedAt)) / DAY : 0
  const month = visitorsAMonth(visitors, days, share)
  if (!primary || primary.metric.role !== 'primary' || primary.metric.kind === 'ratio' || month === null) return null
  const said = unitValues[primary.metric.id]
  if (isMoney(primary.metric)) return { visitorsAMonth: month, unitValue: 1, from: 'metric' }
  if (said !== undefined) return { visitorsAMonth: month, unitValue: said, from: 'team' }
  const amounts = metrics.find(({ metric }) => metric.kind === 'mean' && isMoney(metric) && metric.direction === 'up')
  const [units, brought] = [primary.arms[0]?.sum ?? 0, amounts?.arms[0]?.sum ?? 0]
  return units > 0 && brought > 0 ? { visitorsAMonth: month, unitValue: brought / units, from: 'orders' } : null
}
