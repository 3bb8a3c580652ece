const MINUTE = 60_000
const DAY = 24 * 60 * MINUTE

/** A clock further off than this is corrected by the difference. */
export const TOLERATED_SKEW = MINUTE
/** Events older than this are refused: the snippet does not keep them longer either. */
export const OLDEST_EVENT = 7 * DAY
/** Key time of events from clocks so wrong that their own time would point to no partition. */
const ASTRAY = new Date(0)

export interface EventTime {
  /** Part of the event's key; does not depend on when it was sent. */
  madeAt: Date
  occurredAt: Date
}

/**
 * When an event happened, by the server's clock.
 *
 * @param at - the browser's clock at the event, in ms
 * @param sent - the browser's clock at sending, in ms
 * @param received - the server's clock at receipt, in ms
 * @returns null for an event that is too old to be taken
 */
export function correctTime(at: number, sent: number, received: number): EventTime | null {
  const skew = received - sent
  const isOff = Math.abs(skew) > TOLERATED_SKEW
  const occurred = Math.min(received, isOff ? at + skew : at)
  if (received - occurred > OLDEST_EVENT) return null
  const isAstray = Math.abs(skew) > DAY
  return { madeAt: isAstray ? ASTRAY : new Date(at), occurredAt: new Date(occurred) }
}
