import { tQuantile } from '../statistics/distributions'
import { fiellerInterval } from '../statistics/fieller'
import { dayAfter } from '../time/siteDay'

/** What was measured on a day; null where there was nothing to measure. */
export interface DayValue {
  /** Such as 2026-11-30. */
  day: string
  value: number | null
}

/** How a measure stood before a day and after it, with the same weekdays on both sides. */
export interface AroundDay {
  before: { mean: number; days: number }
  after: { mean: number; days: number }
  /** Relative; null where nothing was before. */
  lift: number | null
  /** Of the lift, of 95 %; null where the mean before cannot be told from zero. */
  interval: [number, number] | null
}

/** Days that are looked at on each side. */
export const AROUND_DAYS = 28
/** Fewer say nothing of how days depart from each other. */
const LEAST_FREEDOM = 6

/**
 * Compares the days after one with those before it, weekday by weekday. The day itself is left out: what happened on it
 * happened at some hour.
 *
 * Each weekday weighs the same, and days of one weekday are taken to depart from each other by chance alone. So what else
 * changed at that time, a season or a campaign, is in the difference, too: it is no proof of an effect.
 *
 * @param values - in any order; days that are not among them do not count
 * @returns null where the days are too few
 * @example aroundDay(values, '2026-11-02') // { before: { mean: 0.031, days: 28 }, …, lift: 0.09, interval: [-0.02, 0.21] }
 * @see Fieller (1954) for the interval of the ratio, with Student's t of the days' own deviation
 */
export function aroundDay(values: readonly DayValue[], day: string): AroundDay | null {
  const [first, last] = [dayAfter(day, -AROUND_DAYS), dayAfter(day, AROUND_DAYS)]
  const before = byWeekday(values.filter((each) => each.day >= first && each.day < day))
  const after = byWeekday(values.filter((each) => each.day > day && each.day <= last))
  const weekdays = [...before.keys()].filter((weekday) => after.has(weekday))
  const sides = [before, after].map((side) => sideOf(weekdays.map((weekday) => side.get(weekday)!)))
  const [was, is] = sides as [Side, Side]
  const freedom = was.days + is.days - 2 * weekdays.length
  if (freedom < LEAST_FREEDOM) return null
  const variance = (was.squares + is.squares) / freedom
  return {
    before: { mean: was.mean, days: was.days },
    after: { mean: is.mean, days: is.days },
    lift: was.mean === 0 ? null : is.mean / was.mean - 1,
    interval: fiellerInterval(
      { mean: was.mean, variance: variance * was.spread },
      { mean: is.mean, variance: variance * is.spread },
      tQuantile(0.975, freedom),
    ),
  }
}

interface Side {
  mean: number
  days: number
  /** Squared departures from the means of their weekdays. */
  squares: number
  /** Variance of the mean, in that of a day. */
  spread: number
}

function sideOf(weekdays: readonly (readonly number[])[]): Side {
  const means = weekdays.map(meanOf)
  return {
    mean: meanOf(means),
    days: weekdays.reduce((sum, { length }) => sum + length, 0),
    squares: weekdays.reduce(
      (sum, values, at) => sum + values.reduce((own, value) => own + (value - means[at]!) ** 2, 0),
      0,
    ),
    spread: weekdays.reduce((sum, { length }) => sum + 1 / length, 0) / weekdays.length ** 2,
  }
}

const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length

function byWeekday(values: readonly DayValue[]): Map<number, number[]> {
  const found = new Map<number, number[]>()
  for (const { day, value } of values) {
    if (value === null) continue
    const weekday = new Date(`${day}T00:00:00Z`).getUTCDay()
    const own = found.get(weekday)
    if (own) own.push(value)
    else found.set(weekday, [value])
  }
  return found
}
