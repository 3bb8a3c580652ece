import type { DayView, LookView } from '~~/shared/experiments/resultsReplies'
import { intervalColumns } from '~/data/intervalColumns'
import type { TableColumn } from '~/data/tableColumn'
import type { DayLift } from '~/charts/liftChart'

/** How a lift is followed: as it built up, as the plan reads it, or of each day's visitors alone. */
export type LiftView = 'built-up' | 'by-day'

/** The lift of a variant as it built up, from the looks of one metric. */
export function builtUpLifts(
  looks: readonly LookView[],
  metricVersionId: number,
  position: number,
  method: 'fixed' | 'sequential',
): DayLift[] {
  return looks
    .filter((each) => each.metricVersionId === metricVersionId && each.variant === position)
    .map(({ day, lift, interval, fixedInterval }) => ({
      day,
      lift,
      interval: method === 'fixed' ? fixedInterval : interval,
    }))
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
