import { DAY } from '../time/units'
import type { FactTest } from './condition'
import { matchesPageRule, type PageRule } from './pageRule'

/** What of a visitor's past is counted, each list in the order of time. */
interface Done {
  views: readonly { address: string; at: number }[]
  events: readonly { name: string; at: number }[]
}

interface Count {
  /** How far the list was looked at. */
  next: number
  /** Moments of what fits, and how many of the first ones are too old by now. */
  fitting: number[]
  old: number
  until: number
}

/**
 * Counts how often something was done, or a page seen, before a moment, for moments that move on: each view and event
 * is looked at once a test, however many moments are asked about.
 *
 * @param done - what is kept of one visitor
 * @returns the count of a test on `seen` or `did` before `now` (ms since 1970); an earlier moment begins anew
 * @example runningCounts({ views: [], events: [{ name: 'order', at: 5 }] })({ fact: 'did', name: 'order', is: 'known' }, 6) // 1
 */
export function runningCounts({ views, events }: Done): (test: FactTest, now: number) => number {
  const counts = new Map<FactTest, Count>()
  return (test, now) => {
    const list = test.fact === 'did' ? events : views
    let count = counts.get(test)
    if (!count || count.until > now) counts.set(test, (count = { next: 0, fitting: [], old: 0, until: now }))
    count.until = now
    for (; count.next < list.length && list[count.next]!.at < now; count.next++) {
      const each = list[count.next]!
      if (fits(test, each)) count.fitting.push(each.at)
    }
    const from = test.days === undefined ? -Infinity : now - test.days * DAY
    while (count.old < count.fitting.length && count.fitting[count.old]! < from) count.old++
    return count.fitting.length - count.old
  }
}

function fits({ name = '', page }: FactTest, each: { name: string } | { address: string }): boolean {
  return 'name' in each ? each.name === name : page !== undefined && isMatching(page, each.address)
}

/** What is known of addresses: many visitors see the same pages. */
const known = new WeakMap<PageRule, Map<string, boolean>>()
const MOST_KNOWN = 50_000

function isMatching(rule: PageRule, address: string): boolean {
  let of = known.get(rule)
  if (!of) known.set(rule, (of = new Map()))
  let matches = of.get(address)
  if (matches === undefined) {
    if (of.size >= MOST_KNOWN) of.clear()
    of.set(address, (matches = matchesPageRule(rule, address)))
  }
  return matches
}
