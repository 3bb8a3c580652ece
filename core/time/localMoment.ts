import { Temporal } from 'temporal-polyfill'

/** A moment that was named by the clock on the wall. */
export interface LocalMoment {
  /** ms since 1970 */
  at: number
  /** The clock never shows this time, or shows it twice, because it is put forward or back on that day. */
  oddity: 'skipped' | 'twice' | null
}

/**
 * The moment at which clocks in a time zone show a time. Of a time that they show twice, the first; of one that they
 * skip, the moment at which they are put forward.
 *
 * @param local - `YYYY-MM-DDTHH:MM`, as fields for date and time have it
 * @param timeZone - name in the IANA database
 * @throws RangeError for what is no time, or a zone that is not known
 * @example localMoment('2026-10-25T01:30', 'Europe/Dublin') // { at: Date.UTC(2026, 9, 25, 0, 30), oddity: 'twice' }
 */
export function localMoment(local: string, timeZone: string): LocalMoment {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(local)) throw new RangeError(`${local} is no date and time.`)
  const wanted = Temporal.PlainDateTime.from(local, { overflow: 'reject' })
  const first = wanted.toZonedDateTime(timeZone, { disambiguation: 'earlier' })
  const last = wanted.toZonedDateTime(timeZone, { disambiguation: 'later' })
  if (first.equals(last)) return { at: first.epochMilliseconds, oddity: null }
  if (first.toPlainDateTime().equals(wanted)) return { at: first.epochMilliseconds, oddity: 'twice' }
  return { at: first.getTimeZoneTransition('next')!.epochMilliseconds, oddity: 'skipped' }
}

/** What the clock shows at a moment, as `YYYY-MM-DDTHH:MM`. */
export function localTime(at: number, timeZone: string): string {
  const shown = Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(timeZone)
  return shown.toPlainDateTime().toString({ smallestUnit: 'minute' })
}
