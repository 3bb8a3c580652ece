import { wholeDays } from '~~/core/time/siteDay'
import { formatDate } from '~~/shared/formats'
import { DAY } from '~~/core/time/units'

interface Run {
  startedAt: string | null
  endedAt: string | null
  longestWeeks: number
}

/** Day of a run, from 1 on. */
export function dayOfRun({ startedAt }: Pick<Run, 'startedAt'>, timeZone: string, now = Date.now()): number {
  return wholeDays(Date.parse(startedAt!), now, timeZone) + 1
}

/** When the longest run is over. */
export function plannedEnd({ startedAt, longestWeeks }: Omit<Run, 'endedAt'>): number {
  return Date.parse(startedAt!) + longestWeeks * 7 * DAY
}

/** Day 12 of 42, to Dec 3 at the latest; or from when to when it ran. */
export function runInWords(run: Run, timeZone: string, now = Date.now()): string {
  const short = (at: string | number) => formatDate(at, timeZone).replace(/, \d{4}$/, '')
  if (run.endedAt) return `${short(run.startedAt!)} – ${short(run.endedAt)}`
  return `day ${dayOfRun(run, timeZone, now)} of ${run.longestWeeks * 7}, to ${short(plannedEnd(run))}`
}
