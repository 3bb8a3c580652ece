import type { Random } from './random'
import { DAY } from '../../core/time/units'

/** Monday first. */
const WEEK = [0.95, 0.9, 0.92, 1, 1.15, 1.25, 1.2]
const HOURS = [2, 1, 1, 1, 1, 2, 5, 10, 14, 17, 19, 20, 22, 20, 18, 18, 19, 22, 26, 30, 31, 27, 16, 7]

/**
 * Draws the times of first visits over a number of days up to that of a moment, with the rhythm of weeks and days. Who
 * comes later on the last day has not come yet: whatever the moment, everybody else comes at the same time.
 */
export function arrivalTimes(until: Date, days: number): (random: Random) => number {
  const midnight = Date.UTC(until.getUTCFullYear(), until.getUTCMonth(), until.getUTCDate())
  const first = midnight - (days - 1) * DAY
  const dayWeights = Object.fromEntries(
    Array.from({ length: days }, (_, day) => [
      day,
      WEEK[(new Date(first + day * DAY).getUTCDay() + 6) % 7]! * (1 + 0.15 * Math.sin(day / 9)),
    ]),
  )
  const hourWeights = Object.fromEntries(HOURS.map((weight, hour) => [hour, weight]))
  return (random) =>
    first +
    Number(random.pick(dayWeights)) * DAY +
    (Number(random.pick(hourWeights)) + random.uniform()) * 60 * 60 * 1000
}
