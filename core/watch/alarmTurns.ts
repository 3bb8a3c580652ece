import type { WatchFinding } from './finding'

/** An alarm that has not been closed. */
export interface OpenAlarm extends WatchFinding {
  id: number
  /** In ms since 1970. */
  lastSeenAt: number
}

export interface AlarmTurns {
  /** What is new. */
  opened: WatchFinding[]
  /** What is still so, with what is said of it now. */
  goOn: { id: number; text: string }[]
  /** What is over. */
  closed: number[]
}

/**
 * What becomes of alarms: one cause is one alarm for as long as it is found. It closes by itself once it was not found for
 * a while: what comes and goes is no new alarm each time.
 *
 * @param open - alarms of one experiment, or of the site itself
 * @param found - what is wrong now
 * @param quiet - for how long a cause must not be found before it is over, in ms
 */
export function alarmTurns(
  open: readonly OpenAlarm[],
  found: readonly WatchFinding[],
  now: number,
  quiet: number,
): AlarmTurns {
  const isOf = (a: WatchFinding) => (b: WatchFinding) => a.check === b.check && a.cause === b.cause
  const unique = found.filter((each, place) => found.findIndex(isOf(each)) === place)
  return {
    opened: unique.filter((each) => !open.some(isOf(each))),
    goOn: open.flatMap((alarm) => {
      const still = unique.find(isOf(alarm))
      return still ? [{ id: alarm.id, text: still.text }] : []
    }),
    closed: open.flatMap((alarm) => (!unique.some(isOf(alarm)) && now - alarm.lastSeenAt >= quiet ? [alarm.id] : [])),
  }
}
