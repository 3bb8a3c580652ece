import { Temporal } from 'temporal-polyfill'
import { DAY } from './units'

const QUARTER_HOUR = 15 * 60_000
const MOST_REMEMBERED = 20_000

/**
 * The day of a moment in one time zone, as `YYYY-MM-DD`. The one place where moments become days, so that a day is the
 * same wherever it is counted.
 *
 * @param timeZone - name in the IANA database, such as Europe/Dublin
 * @throws RangeError for a time zone that is not known
 * @example siteDays('Europe/Dublin')(Date.UTC(2026, 5, 1, 23, 30)) // '2026-06-02'
 */
export function siteDays(timeZone: string): (at: number) => string {
  const read = (at: number) => zoned(at, timeZone).toPlainDate().toString()
  read(0)
  // No zone changes its day or its clock but at a quarter of an hour.
  const known = new Map<number, string>()
  return (at) => {
    const quarter = Math.floor(at / QUARTER_HOUR)
    let day = known.get(quarter)
    if (day === undefined) {
      if (known.size > MOST_REMEMBERED) known.clear()
      known.set(quarter, (day = read(quarter * QUARTER_HOUR)))
    }
    return day
  }
}

function zoned(at: number, timeZone: string): Temporal.ZonedDateTime {
  return Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(timeZone)
}

/** The day after a day, both as `YYYY-MM-DD`. Calendar days: none is skipped where clocks change. */
export function dayAfter(day: string, days = 1): string {
  // Days of the calendar are the same length; reports ask for hundreds of them.
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * DAY).toISOString().slice(0, 10)
}

/** All days from one to another, both included; empty when the second comes first. */
export function daysFrom(first: string, last: string): string[] {
  const days: string[] = []
  for (let day = first; day <= last; day = dayAfter(day)) days.push(day)
  return days
}

/**
 * Days that have passed between two moments, by the clock on the wall: a day is over at the time of day at which it
 * began, also where clocks changed in between.
 *
 * @returns a whole number, 0 when the end comes first
 * @example wholeDays(Date.UTC(2026, 2, 28, 12), Date.UTC(2026, 2, 29, 11), 'Europe/Dublin') // 1: an hour was skipped
 */
export function wholeDays(start: number, end: number, timeZone: string): number {
  const { days } = zoned(start, timeZone).until(zoned(end, timeZone), { largestUnit: 'day' })
  return Math.max(0, days)
}

/**
 * The moment at which so many days are over, by the clock on the wall: the inverse of `wholeDays`.
 *
 * @param start - in ms since 1970
 * @example afterDays(Date.UTC(2026, 2, 28, 12), 1, 'Europe/Dublin') // Date.UTC(2026, 2, 29, 11)
 */
export function afterDays(start: number, days: number, timeZone: string): number {
  return zoned(start, timeZone).add({ days }).epochMilliseconds
}

/**
 * The first moment of a day in a time zone, in ms since 1970. Where clocks skip midnight, the moment they go on with.
 *
 * @param timeZone - name in the IANA database
 * @example firstMoment('2026-06-02', 'Europe/Dublin') // Date.UTC(2026, 5, 1, 23)
 */
export function firstMoment(day: string, timeZone: string): number {
  return Temporal.PlainDate.from(day).toZonedDateTime(timeZone).epochMilliseconds
}

/** The first moments of days in a row, and that of the day after the last. */
export function firstMoments(from: string, to: string, timeZone: string): number[] {
  const moments: number[] = []
  for (let day = from; day <= to; day = dayAfter(day)) moments.push(firstMoment(day, timeZone))
  moments.push(firstMoment(dayAfter(to), timeZone))
  return moments
}
