import { DAYS_A_MONTH } from '../hypotheses/worth'

/** What a lift is multiplied by. */
export interface MonthlyScale {
  /** Visitors of the pages and the audience in a month. */
  visitorsAMonth: number
  /** Of the metric, in the control. */
  mean: number
  /** Money that one unit of the metric brings. */
  unitValue: number
  direction: 'up' | 'down'
}

export interface MonthlyGain {
  expected: number
  low: number
  high: number
}

/**
 * Money that a variant brings in a month more than the control, if everybody gets it: visitors × mean × lift × value.
 * The interval is that of the lift: how many visitors come, and what a unit brings, is taken as it was.
 *
 * @param lift - relative, with its interval; of a metric that is to fall, a fall is a gain
 * @returns null where the lift is not known
 * @example
 * monthlyGain({ visitorsAMonth: 10_000, mean: 0.05, unitValue: 60, direction: 'up' }, 0.1, [-0.02, 0.22])
 * // { expected: 3000, low: -600, high: 6600 }
 */
export function monthlyGain(
  { visitorsAMonth, mean, unitValue, direction }: MonthlyScale,
  lift: number | null,
  interval: readonly [number, number] | null,
): MonthlyGain | null {
  if (lift === null || interval === null) return null
  const scale = visitorsAMonth * mean * unitValue * (direction === 'down' ? -1 : 1)
  const ends = interval.map((end) => end * scale)
  return { expected: lift * scale, low: Math.min(...ends), high: Math.max(...ends) }
}

/** Fewer days say too little of a month. */
const LEAST_DAYS = 7

/**
 * Visitors who would come in a month, by those of a run.
 *
 * @param daysRun - from the start on, the parts of days included
 * @param share - of the traffic that takes part, of 10,000
 * @returns null for runs of less than a week
 */
export function visitorsAMonth(visitors: number, daysRun: number, share: number): number | null {
  if (daysRun < LEAST_DAYS || share <= 0) return null
  return (visitors / daysRun) * DAYS_A_MONTH * (10_000 / share)
}
