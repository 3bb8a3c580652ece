import { countingOf } from './counting'
import { exactSum } from './decimal'
import { isBefore } from './firstExposure'
import {
  countedAmount,
  isCounted,
  isOfVisits,
  type MeasuredEvent,
  type MetricDefinition,
  type MetricSource,
} from './metric'
import { visitSum, type Visit } from './visitSum'
import { DAY } from '../time/units'

/** How long before the first exposure the past reaches that a metric is adjusted by. */
export const PAST_DAYS = 28
/** What happens this close before the exposure belongs to the same visit, and is no past. */
export const SAME_VISIT_MINUTES = 30

export interface VisitorNumbers {
  value: number
  /** Of a ratio; 0 for other kinds. */
  denominator: number
  /** The same metric before the first exposure (of a ratio, its numerator); null without an earlier visit. */
  past: number | null
}

/** When a visitor first saw an experiment, and until when it counts. */
export interface MeasuredExposure {
  /** ms since 1970 */
  at: number
  /** The page view of the exposure: it counts as one, though it began a moment before. */
  view: string
  /** End of the experiment in ms since 1970; null while it runs. */
  until: number | null
  /** Whether an address is one of the tested pages; without it, all are. */
  isTested?: (address: string) => boolean
}

export const NOTHING: VisitorNumbers = { value: 0, denominator: 0, past: null }

/**
 * What a visitor adds to a metric's statistics.
 *
 * Events may come in any order and in any portions: `addEvents(metric, addEvents(metric, NOTHING, a, x), b, x)` is
 * `addEvents(metric, NOTHING, [...a, ...b], x)`. So a new event costs the same, whatever the visitor did before.
 *
 * @param metric - what is measured
 * @param before - the visitor's numbers from earlier events
 * @param events - further events, each given once, without repetitions of the same order (see `firstOfEach`)
 * @param exposure - the visitor's first exposure
 */
export function addEvents(
  metric: MetricDefinition,
  before: VisitorNumbers,
  events: readonly MeasuredEvent[],
  exposure: MeasuredExposure,
): VisitorNumbers {
  let { value, denominator, past } = before
  for (const event of events) {
    const time = timeOf(metric, event, exposure)
    if (time === 'during') {
      value = withEvent(metric, value, event, exposure)
      if (metric.kind === 'ratio' && metric.denominator && isOnItsPages(metric.denominator, event, exposure))
        denominator = sum(denominator, countedAmount(metric.denominator, event))
    } else if (time === 'past') past = withEvent(metric, past ?? 0, event, exposure)
  }
  return { value, denominator, past }
}

/** Whether an event counts for a metric, or is the visitor's past, or neither. */
export function timeOf(
  metric: Pick<MetricDefinition, 'windowDays'>,
  { at, type, view }: MeasuredEvent,
  exposure: MeasuredExposure,
): 'during' | 'past' | null {
  const isDuring = at >= exposure.at || (type === 'page' && view === exposure.view)
  if (isDuring) return at <= measuredUntil(metric, exposure) ? 'during' : null
  return isPast(at, exposure.at) ? 'past' : null
}

/** Until when a visitor is measured, in ms since 1970: the end of the experiment, or of the metric's window. */
function measuredUntil(
  { windowDays = null }: Pick<MetricDefinition, 'windowDays'>,
  { at, until }: Pick<MeasuredExposure, 'at' | 'until'>,
): number {
  return Math.min(until ?? Infinity, windowDays === null ? Infinity : at + windowDays * DAY)
}

/** Whether an event is on the pages of the experiment, where a source counts only what happens there. */
export function isOnItsPages(
  source: MetricSource,
  { address }: MeasuredEvent,
  { isTested }: MeasuredExposure,
): boolean {
  const counting = countingOf(source)
  return counting.of === 'visits' || counting.pages !== 'tested' || !isTested || isTested(address)
}

/**
 * The numbers with what is counted of whole visits: that is computed from all of them each time, since a further page
 * changes what a visit was. Numbers of sources that count events stay.
 *
 * @param numbers - from `addEvents`
 * @param visits - all visits of the visitor, in any order
 */
export function withVisits(
  metric: MetricDefinition,
  numbers: VisitorNumbers,
  visits: readonly Visit[],
  exposure: Pick<MeasuredExposure, 'at' | 'until'>,
): VisitorNumbers {
  const { kind, source, denominator } = metric
  const isBefore = ({ endedAt }: Visit) => isPast(endedAt, exposure.at)
  const until = measuredUntil(metric, exposure)
  const during = visits.filter(
    (visit) => visit.endedAt >= exposure.at - SAME_VISIT_MINUTES * 60_000 && visit.startedAt <= until,
  )
  const result = { ...numbers }
  if (isOfVisits(source)) {
    const before = visits.filter(isBefore)
    const of = (own: readonly Visit[], since: number) => {
      const sum = visitSum(source, own, since)
      return kind === 'conversion' ? Math.min(1, sum) : sum
    }
    result.value = of(during, exposure.at)
    result.past = before.length === 0 ? null : of(before, -Infinity)
  }
  if (kind === 'ratio' && denominator && isOfVisits(denominator))
    result.denominator = visitSum(denominator, during, exposure.at)
  return result
}

/**
 * What of a visitor's numbers enters the statistics: no more than the cap of the metric. The numbers themselves are
 * kept whole, since what comes later adds to them.
 */
export function cappedNumbers({ value, denominator, past }: VisitorNumbers, cap: number | null): VisitorNumbers {
  if (cap === null) return { value, denominator, past }
  return { value: Math.min(value, cap), denominator, past: past === null ? null : Math.min(past, cap) }
}

/** A conversion happened or not; anything else is summed up. */
function withEvent(
  { kind, source }: MetricDefinition,
  value: number,
  event: MeasuredEvent,
  exposure: MeasuredExposure,
): number {
  if (!isOnItsPages(source, event, exposure)) return value
  if (kind === 'conversion') return value === 1 || isCounted(source, event) ? 1 : 0
  return sum(value, countedAmount(source, event))
}

/** Amounts are decimals: 0.1 and 0.2 are to make 0.3, whatever the order, and whatever is taken back. */
export function sum(one: number, other: number): number {
  if (other === 0) return one
  // What differs in sign cancels, and leaves the digits that floating point numbers get wrong.
  return one < 0 === other < 0 ? Number((one + other).toPrecision(15)) : exactSum([one, other])
}

/** Whether a moment is in the past that metrics are adjusted by; both in ms since 1970. */
export function isPast(at: number, exposedAt: number): boolean {
  return at < exposedAt - SAME_VISIT_MINUTES * 60_000 && at >= exposedAt - PAST_DAYS * DAY
}

/**
 * The events without repetitions: of those that tell of the same thing (the same order, shown or sent again), the first
 * by time.
 */
export function firstOfEach(events: readonly MeasuredEvent[]): MeasuredEvent[] {
  const first = new Map<string, MeasuredEvent>()
  for (const event of events) {
    if (!event.once) continue
    const other = first.get(event.once)
    if (!other || isBefore(event, other)) first.set(event.once, event)
  }
  return first.size === 0 ? [...events] : events.filter((event) => !event.once || first.get(event.once) === event)
}
