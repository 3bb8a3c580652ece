import { DAY } from '../time/units'
import type { MeasuredEvent, MetricDefinition } from './metric'
import {
  addEvents,
  cappedNumbers,
  NOTHING,
  SAME_VISIT_MINUTES,
  withVisits,
  type MeasuredExposure,
} from './visitorNumbers'
import type { Visit } from './visitSum'

/**
 * What a visitor adds to a metric in each period since the first exposure: as `addEvents` and `withVisits` count it, of
 * what happened in that period alone. A conversion counts once in each period in which it happens.
 *
 * @param metric - no ratio
 * @param events - of the visitor, without repetitions of the same order (see `firstOfEach`)
 * @param visits - of the visitor; a visit belongs to the period in which it begins
 * @param periods - in days since the exposure
 */
export function valuesSince(
  metric: MetricDefinition,
  events: readonly MeasuredEvent[],
  visits: readonly Visit[],
  exposure: MeasuredExposure,
  periods: readonly { from: number; until: number }[],
): number[] {
  const daysSince = (at: number) => (at - exposure.at) / DAY
  /** What begins with the exposure belongs to the first day, though it began a moment before. */
  const dayOf = ({ at, type, view }: MeasuredEvent) =>
    type === 'page' && view === exposure.view ? Math.max(0, daysSince(at)) : daysSince(at)
  const dayOfVisit = ({ startedAt }: Visit) =>
    startedAt >= exposure.at - SAME_VISIT_MINUTES * 60_000 ? Math.max(0, daysSince(startedAt)) : daysSince(startedAt)
  return periods.map(({ from, until }) => {
    const isWithin = (day: number) => day >= from && day < until
    const ofEvents = addEvents(
      metric,
      NOTHING,
      events.filter((event) => isWithin(dayOf(event))),
      exposure,
    )
    const ofVisits = visits.filter((visit) => isWithin(dayOfVisit(visit)))
    return cappedNumbers(withVisits(metric, ofEvents, ofVisits, exposure), metric.cap ?? null).value
  })
}
