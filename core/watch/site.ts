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
  /** Views that came in, and those of them that came late, in the last day and in the seven days before. */
  arrivals: { lately: Arrivals; before: Arrivals }
  /** Of the disk that holds the data; null where it cannot be asked. */
  disk: { free: number; size: number } | null
}

export interface Arrivals {
  late: number
  all: number
}

/** A view comes late that comes so many minutes after it was opened: its browser could not reach Vetch. */
export const LATE_ARRIVAL = 10

/** Longer than this, in seconds, something keeps the numbers from being counted. */
const LONGEST_DELAY = 300
const GIGABYTE = 1e9
const LEAST_FREE = 2 * GIGABYTE
const LEAST_FREE_SHARE = 0.05
/** Fewer than these, or a smaller share, matter to nobody; changes smaller than this come by themselves. */
const LEAST_COUNT = 100
const MOST_SHARE = 0.05
const TIMES_AS_MANY = 3

/**
 * What is wrong with a site as a whole. While numbers wait to be counted nothing is said of what they lack.
 */
export function siteFindings(site: WatchedSite): WatchFinding[] {
  const delayed = delayFindings(site)
  return [
    ...delayed,
    ...diskFindings(site),
    ...arrivalFindings(site),
    ...(delayed.length > 0 ? [] : [...trafficFindings(site.visits), ...refusedFindings(site)]),
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
  const before = shareOf(refused.before, refused.before + taken.before)
  if (!isManyMore(refused.today, all, before)) return []
  const text = `${whole(refused.today)} of ${whole(all)} events were refused today; usually it is ${percent(before)}.`
  return [{ check: 'refused', cause: 'refused', text }]
}

function arrivalFindings({ arrivals: { lately, before } }: WatchedSite): WatchFinding[] {
  const usual = shareOf(before.late, before.all)
  if (!isManyMore(lately.late, lately.all, usual)) return []
  const text = `${whole(lately.late)} of ${whole(lately.all)} views of the last day came more than ${LATE_ARRIVAL} minutes late; usually it is ${percent(usual)}. Ask whoever runs Vetch whether browsers reach it.`
  return [{ check: 'arrivals', cause: 'late', text }]
}

/** Whether so many are far more than the usual share, by no accident. */
function isManyMore(count: number, all: number, usual: number): boolean {
  const share = shareOf(count, all)
  if (count < LEAST_COUNT || share <= MOST_SHARE || share <= TIMES_AS_MANY * usual) return false
  return shareOfAtLeast(count, all, Math.max(usual, 0.01) * 1.5) < WATCH_LEVEL
}

const shareOf = (count: number, all: number) => count / Math.max(1, all)
const percent = (share: number) => `${(share * 100).toFixed(1)} %`
