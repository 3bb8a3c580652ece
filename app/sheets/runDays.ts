import { siteDays } from '~~/core/time/siteDay'
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** The first and the last day of a run so far, in the site's time zone. */
export function runDays({ startedAt, endedAt, timeZone }: ExperimentSheet): { from: string; to: string } {
  const dayOf = siteDays(timeZone)
  return { from: dayOf(Date.parse(startedAt!)), to: dayOf(endedAt ? Date.parse(endedAt) : Date.now()) }
}
