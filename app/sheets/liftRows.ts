import type { DayView, LooksView, LookView } from '~~/shared/experiments/resultsReplies'
import type { MetricView } from '~~/shared/experiments/replies'
import type { ReadingMethod } from '~~/core/analysis/readings'
import { intervalColumns } from '~/data/intervalColumns'
import type { TableColumn } from '~/data/tableColumn'
import type { DayLift } from '~/charts/liftChart'

/** How a lift is followed: as it built up, as the plan reads it, or of each day's visitors alone. */
export type LiftView = 'built-up' | 'by-day'

/** The lift of a variant as it built up, with the intervals that the plan decides by. */
export function builtUpLifts(
  { days, planned }: LooksView,
  { versionId, role }: Pick<MetricView, 'versionId' | 'role'>,
  position: number,
  method: Exclude<ReadingMethod, 'bayesian'>,
): DayLift[] {
  const looks = new Map(planned.filter(({ variant }) => variant === position).map((look) => [look.day, look]))
  // The plan takes looks at the primary metric alone.
  const isPlanned = method === 'spending' && role === 'primary'
  const intervalOf = ({ day, interval, fixedInterval }: LookView) => {
    if (isPlanned) return looks.get(day)?.lift.interval ?? null
    return method === 'fixed' ? fixedInterval : interval
  }
  return days
    .filter((each) => each.metricVersionId === versionId && each.variant === position)
    .map((look) => ({ day: look.day, lift: look.lift, interval: intervalOf(look) }))
}

/** The lift of a variant among the visitors of each day. */
export function dailyLifts(days: readonly DayView[], metricVersionId: number, position: number): DayLift[] {
  return days.flatMap(({ day, metrics }) => {
    const own = metrics.find((each) => each.metricVersionId === metricVersionId)?.lifts[position - 1]
    return own ? [{ day, lift: own.estimate, interval: own.interval }] : []
  })
}

export const LIFT_COLUMNS: readonly TableColumn<DayLift>[] = [
  { id: 'day', header: 'Day', value: ({ day }) => day, isHeading: true },
  { id: 'lift', header: 'Lift', value: ({ lift }) => lift, show: ({ lift }) => formatLift(lift), isNumeric: true },
  ...intervalColumns<DayLift>(({ interval }) => interval),
]
