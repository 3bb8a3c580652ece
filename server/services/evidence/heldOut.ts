import { tallyHeldOut, type HeldOutTally } from '../../../core/evidence/heldOut'
import { selectSessions } from '../../../core/evidence/selection'
import type { MetricDefinition } from '../../../core/measurement/metric'
import { isHeldOut } from '../../../core/targeting/whyNot'
import { firstMoment } from '../../../core/time/siteDay'
import { DAY } from '../../../core/time/units'
import type { SiteVisits } from './siteVisits'

/** Days before a holdout by which its intervals are tuned. */
const DAYS_BEFORE = 28

/** Whose visits are told apart, and what is measured of them. */
export interface HeldOutQuestion {
  /** ms since 1970 */
  from: number
  until: number
  salt: string
  /** Of 10,000. */
  share: number
  /** First days of the months, by the clock of the site; the first is that of the start. */
  months: readonly string[]
  metrics: readonly MetricDefinition[]
}

export interface HeldOutAnswer {
  whole: HeldOutTally
  months: HeldOutTally[]
  /** New to the four weeks before, on average; null where nobody came. */
  visitorsADay: number | null
}

/** Those who are held out beside all others, over all of it and month by month. */
export function heldOutOf({ visits, basis }: SiteVisits, question: HeldOutQuestion): HeldOutAnswer {
  const { from, until, salt, share, months, metrics } = question
  const known = new Map<string, boolean>()
  function isOut(visitor: string): boolean {
    const answer = known.get(visitor) ?? isHeldOut(visitor, { salt, share })
    known.set(visitor, answer)
    return answer
  }
  const within = (start: number, end: number, measured = metrics) => {
    const selected = selectSessions(visits, { from: start, until: end, segment: [], page: null })
    return tallyHeldOut(visits, selected, isOut, measured, end)
  }
  const starts = months.map((day) => Math.max(from, firstMoment(day, basis.timeZone)))
  const before = within(from - DAYS_BEFORE * DAY, from, []).visitors
  const came = before[0] + before[1]
  return {
    whole: within(from, until),
    months: starts.map((start, index) => within(start, starts[index + 1] ?? until)),
    visitorsADay: came === 0 ? null : came / DAYS_BEFORE,
  }
}
