const QUARTER_HOUR = 15 * 60_000
const DAY = 86_400_000

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
  const wanted = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(local) ? Date.parse(`${local}Z`) : NaN
  if (Number.isNaN(wanted) || !new Date(wanted).toISOString().startsWith(local))
    throw new RangeError(`${local} is no date and time.`)
  const shown = clockOf(timeZone)
  // No zone is further than a day from UTC, and clocks are put forward and back by quarters of an hour.
  const offset = wanted % QUARTER_HOUR
  const moments: number[] = []
  for (let at = wanted - DAY - offset; at <= wanted + DAY; at += QUARTER_HOUR)
    if (shown(at + offset) === local) moments.push(at + offset)
  if (moments.length > 0) return { at: moments[0]!, oddity: moments.length > 1 ? 'twice' : null }
  let forward = wanted - DAY - offset
  while (shown(forward) < local) forward += QUARTER_HOUR
  return { at: forward, oddity: 'skipped' }
}

/** What the clock shows at a moment, as `YYYY-MM-DDTHH:MM`. */
export function localTime(at: number, timeZone: string): string {
  return clockOf(timeZone)(at)
}

function clockOf(timeZone: string): (at: number) => string {
  const fields = { year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit' } as const
  const format = new Intl.DateTimeFormat('en-CA', { ...fields, timeZone, hourCycle: 'h23' })
  return (at) => {
    const { year, month, day, hour, minute } = Object.fromEntries(
      format.formatToParts(at).map(({ type, value }) => [type, value]),
    )
    return `${year}-${month}-${day}T${hour}:${minute}`
  }
}
