import { probabilityOfAtLeast, probabilityOfAtMost } from '../statistics/countTails'
import { hours, WATCH_LEVEL, whole, WINDOWS, type WatchFinding } from './finding'

const WEEK = 168
const DAY = 24
/** Weeks that say what an hour of the week brings. */
const WEEKS = 4
/** Hours of one week do not repeat better than this, whatever the past says. */
const LEAST_SPREAD = 0.15
/** Changes that matter, beside those that are no chance. */
const FEW = 0.5
const MANY = 3

/** What an hour of the week usually brings, and from how many earlier ones that is known. */
interface UsualHour {
  mean: number
  known: number
}

/**
 * Whether a site has far fewer visits than this hour of the week brings, or far more.
 *
 * @param visits - of each hour that is over, in their order, without gaps; the last is the latest
 * @returns nothing while a week is not known yet
 */
export function trafficFindings(visits: readonly number[]): WatchFinding[] {
  const end = visits.length
  const spread = spreadOf(visits)
  for (const window of WINDOWS) {
    if (window > end) break
    const usual = Array.from({ length: window }, (_, back) => usualHour(visits, end - 1 - back))
    if (usual.some((hour) => hour === null)) return []
    const mean = usual.reduce((sum, hour) => sum + hour!.mean, 0)
    if (!(mean > 0)) continue
    const known = Math.min(...usual.map((hour) => hour!.known))
    // The mean itself is known from a few hours only.
    const expected = { mean, spread: Math.sqrt(spread ** 2 * (1 + 1 / known) + 1 / (known * mean)) }
    const count = visits.slice(end - window).reduce((sum, each) => sum + each, 0)
    if (count < FEW * mean && probabilityOfAtMost(count, expected) < WATCH_LEVEL)
      return [{ check: 'traffic', cause: 'few', text: told(count, window, mean) }]
    if (count > MANY * mean && probabilityOfAtLeast(count, expected) < WATCH_LEVEL)
      return [{ check: 'traffic', cause: 'many', text: told(count, window, mean) }]
  }
  return []
}

function told(count: number, window: number, mean: number): string {
  return `${whole(count)} visit${count === 1 ? '' : 's'} came in the last ${hours(window)}; about ${whole(mean)} are usual at this time of the week.`
}

/** The same hour of the weeks before; null where there is none. */
function usualHour(visits: readonly number[], at: number): UsualHour | null {
  const before: number[] = []
  for (let week = 1; week <= WEEKS && at - week * WEEK >= 0; week++) before.push(visits[at - week * WEEK]!)
  if (before.length === 0) return null
  return { mean: before.reduce((sum, each) => sum + each, 0) / before.length, known: before.length }
}

/** How far days depart from what their weekday brings, beside chance, as a relative deviation. */
function spreadOf(visits: readonly number[]): number {
  let [squares, weights] = [0, 0]
  for (let end = visits.length; end - DAY >= WEEK; end -= DAY) {
    const ofDay = (from: number) => visits.slice(from, from + DAY).reduce((sum, each) => sum + each, 0)
    const earlier: number[] = []
    for (let from = end - DAY - WEEK; from >= 0 && earlier.length < WEEKS; from -= WEEK) earlier.push(ofDay(from))
    const mean = earlier.reduce((sum, each) => sum + each, 0) / earlier.length
    // The day that is judged does not excuse itself.
    if (end === visits.length || !(mean > 0)) continue
    const byChance = mean * (1 + 1 / earlier.length)
    squares += Math.min((ofDay(end - DAY) - mean) ** 2, mean ** 2) - byChance
    weights += mean ** 2 * (1 + 1 / earlier.length)
  }
  return weights > 0 ? Math.max(LEAST_SPREAD, Math.sqrt(Math.max(0, squares / weights))) : 2 * LEAST_SPREAD
}
