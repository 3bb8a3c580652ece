import type { MeasuredEvent } from '../../../core/measurement/metric'

/** An event as the database gives it: its amount in its own currency. */
export interface StoredEvent extends MeasuredEvent {
  /** Who is one unit: a visitor's id, or that of a person. */
  visitor: string
  /** Id of the visitor whose browser told it. */
  browser?: string
  currency: string | null
}

/** What an amount of a moment counts as in the site's currency; null where there is no rate for it. */
export type Convert = (told: { amount: number; currency: string | null; at: number }) => number | null

/** An event with its amount in the site's currency. */
export function converted<Event extends StoredEvent>(event: Event, convert: Convert): Event {
  const { amount, currency } = event
  if (amount === null || amount === undefined || currency === null) return event
  const counted = convert({ amount, currency, at: event.at })
  return {
    ...event,
    amount: counted,
    isUnconverted: counted === null,
    told: { amount, currency },
  }
}
