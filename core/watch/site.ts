import { shareOfAtLeast } from '../statistics/countTails'
import { WATCH_LEVEL, whole, type WatchFinding } from './finding'
import { trafficFindings } from './traffic'

/** What is known of how things come in, and of the machine. */
export interface WatchedSite {
  /** Of each hour that is over. */
  visits: readonly number[]
  /** For how long what was received has waited to be counted, in seconds. */
  delay: number
  /** Events that were refused and taken, today and in the seven days before. */
  refused: { today: number; before: number }
  taken: { today: number; before: number }
  /** Of the disk that holds the data; null where it cannot be asked. */
  disk: { free: number; size: number } | null
}

/** Longer than this, in seconds, something keeps the numbers from being counted. */
const LONGEST_DELAY = 300
const GIGABYTE = 1e9
const LEAST_FREE = 2 * GIGABYTE
const LEAST_FREE_SHARE = 0.05
const LEAST_REFUSED = 100
/** Refusals of fewer than these matter to nobody, and changes smaller than this come by themselves. */
const MOST_REFUSED = 0.05
const TIMES_AS_MANY = 3

/**
 * What is wrong with a site as a whole. While numbers wait to be counted nothing is said of what they lack.
 */
export function siteFindings(site: WatchedSite): WatchFinding[] {
  const late = delayFindings(site)
  return [
    ...late,
    ...diskFindings(site),
    ...(late.length > 0 ? [] : [...trafficFindings(site.visits), ...refusedFindings(site)]),
  ]
}

function delayFindings({ delay }: WatchedSite): WatchFinding[] {
  if (delay <= LONGEST_DELAY) return []
  const text = `What visitors did has waited ${whole(delay / 60)} minutes to be counted. Ask whoever runs Vetch to look at the worker.`
  return [{ check: 'delay', cause: 'delay', text }]
}

function diskFindings({ disk }: WatchedSite): WatchFinding[] {
  if (!disk || (disk.free >= LEAST_FREE && disk.free >= LEAST_FREE_SHARE * disk.size)) return []
  const text = `Only ${(disk.free / GIGABYTE).toFixed(1)} GB of the disk are free. Once it is full nothing is counted.`
  return [{ check: 'disk', cause: 'disk', text }]
}

function refusedFindings({ refused, taken }: WatchedSite): WatchFinding[] {
  const all = refused.today + taken.today
  const before = refused.before / Math.max(1, refused.before + taken.before)
  const share = refused.today / Math.max(1, all)
  if (refused.today < LEAST_REFUSED || share <= MOST_REFUSED || share <= TIMES_AS_MANY * before) return []
  if (shareOfAtLeast(refused.today, all, Math.max(before, 0.01) * 1.5) >= WATCH_LEVEL) return []
  const text = `${whole(refused.today)} of ${whole(all)} events were refused today; usually it is ${(before * 100).toFixed(1)} %.`
  return [{ check: 'refused', cause: 'refused', text }]
}
