import { pert, type LiftRange } from './pert'

/** What visitors of an idea's pages and audience did lately. */
export interface IdeaTraffic {
  days: number
  visitors: number
  /** Of the metric, a visitor's value: a rate, a count, or an amount. */
  mean: number
  /** Standard deviation of it. */
  deviation: number
  /** Money that one unit of the metric brings; null where nothing says so. */
  unitValue: number | null
}

/** What the team says effort costs, and how long a change has to pay for it. */
export interface Terms {
  /** Money a day of effort costs. */
  dayCost: number
  paybackMonths: number
}

/** An amount that is expected, and the range in which it lies in eight of ten cases. */
export interface Expected {
  expected: number
  low: number
  high: number
}

export interface Worth {
  visitorsAWeek: number
  /** Units of the metric in a month, without the change. */
  unitsAMonth: number
  /** More units in a month (of a metric that is to fall: fewer). */
  gain: Expected
  /** The same in money; null where a unit has no value. */
  money: Expected | null
  /** Probability that the gain pays for the effort in time; null without money. */
  chance: number | null
  /** Expected gain in a month for a day of effort; null where it takes none. */
  gainADay: number | null
  moneyADay: number | null
}

export const DAYS_A_MONTH = 365.25 / 12
const LOW = 0.1
const HIGH = 0.9

/**
 * What an idea is worth: the metric's units in a month, times the lift, whose doubt is a PERT distribution.
 *
 * @param lift - relative, toward the better
 * @param effortDays - 0 or more
 * @throws RangeError for a range out of order, or effort below zero
 * @example
 * worthOf({ days: 28, visitors: 2800, mean: 0.05, deviation: 0.218, unitValue: 60 }, { low: 0, likely: 0.1, high: 0.2 }, 4, { dayCost: 500, paybackMonths: 6 })
 * // 152 bookings a month; 15.2 more of them, 913 in money, 228 for a day of effort
 */
export function worthOf(traffic: IdeaTraffic, lift: LiftRange, effortDays: number, terms: Terms): Worth {
  if (!(effortDays >= 0)) throw new RangeError('The effort is zero days or more.')
  const { mean, cdf, quantile } = pert(lift)
  const visitorsADay = traffic.days > 0 ? traffic.visitors / traffic.days : 0
  const unitsAMonth = visitorsADay * DAYS_A_MONTH * traffic.mean
  const times = (amount: number): Expected => ({
    expected: amount * mean,
    low: amount * quantile(LOW),
    high: amount * quantile(HIGH),
  })
  const gain = times(unitsAMonth)
  const { unitValue } = traffic
  const money = unitValue === null ? null : times(unitsAMonth * unitValue)
  const cost = effortDays * terms.dayCost
  // What a lift of 1 brings until it has to have paid.
  const brought = unitsAMonth * (unitValue ?? 0) * terms.paybackMonths
  const perDay = (amount: number) => (effortDays === 0 ? null : amount / effortDays)
  return {
    visitorsAWeek: visitorsADay * 7,
    unitsAMonth,
    gain,
    money,
    chance: unitValue === null ? null : brought > 0 ? 1 - cdf(cost / brought) : 0,
    gainADay: perDay(gain.expected),
    moneyADay: money && perDay(money.expected),
  }
}
