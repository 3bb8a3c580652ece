import { siteDays } from '~~/core/time/siteDay'

/** The day of a site that is not over yet, as reports name days. */
export function unfinishedDay(timeZone: string): string {
  return siteDays(timeZone)(Date.now())
}
