import { isBefore } from './firstExposure'
import { countedAmount, isCounted, type MeasuredEvent, type MetricDefinition } from './metric'

/** How long before the first exposure the past reaches that a metric is adjusted by. */
export const PAST_DAYS = 28
/** What happens this close before the exposure belongs to the same visit, and is no past. */
const SAME_VISIT_MINUTES = 30

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
    const isDuring = event.at >= exposure.at || (event.type === 'page' && event.view === exposure.view)
    if (isDuring) {
      if (exposure.until !== null && event.at > exposure.until) continue
      value = withEvent(metric, value, event)
      if (metric.kind === 'ratio' && metric.denominator)
        denominator = sum(denominator, countedAmount(metric.denominator, event))
    } else if (isPast(event.at, exposure.at)) past = withEvent(metric, past ?? 0, event)
  }
  return { value, denominator, past }
}

/** A conversion happened or not; anything else is summed up. */
function withEvent({ kind, source }: MetricDefinition, value: number, event: MeasuredEvent): number {
  if (kind === 'conversion') return value === 1 || isCounted(source, event) ? 1 : 0
  return sum(value, countedAmount(source, event))
}

/** Amounts are decimals: 0.1 and 0.2 are to make 0.3, whatever the order. */
function sum(one: number, other: number): number {
  return other === 0 ? one : Number((one + other).toPrecision(15))
}

function isPast(at: number, exposedAt: number): boolean {
  return at < exposedAt - SAME_VISIT_MINUTES * 60_000 && at >= exposedAt - PAST_DAYS * 86_400_000
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
