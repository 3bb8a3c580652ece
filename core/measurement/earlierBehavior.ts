import type { MeasuredEvent } from './metric'
import { isPast, sum } from './visitorNumbers'
import type { Visit } from './visitSum'

/** What is known of a visitor at the first exposure: from the 28 days before, and of how they came. */
export interface EarlierBehavior {
  /** The metric itself; null without an earlier visit. */
  value: number | null
  visits: number
  /** Amounts of money, in the site's currency. */
  spent: number
  device: string
  source: string
}

/**
 * @param value - the metric's past, from `addEvents` and `withVisits`
 * @param events - of the visitor, each order once
 * @param visits - all of the visitor's
 * @param exposure - the visitor's first one, in ms since 1970, and what the visitor was then
 */
export function earlierBehavior(
  value: number | null,
  events: readonly MeasuredEvent[],
  visits: readonly Visit[],
  exposure: { at: number; segments: Readonly<Record<string, string>> },
): EarlierBehavior {
  const paid = events.filter(({ at, told, isUnconverted }) => told && !isUnconverted && isPast(at, exposure.at))
  return {
    value,
    visits: visits.filter(({ endedAt }) => isPast(endedAt, exposure.at)).length,
    spent: paid.reduce((total, { amount }) => sum(total, amount ?? 0), 0),
    device: exposure.segments.device ?? '',
    source: exposure.segments.source ?? '',
  }
}
