import { countingOf } from './counting'
import type { VisitSource } from './metric'
import { DAY } from '../time/units'

/** One visit of a visitor: pages with less than half an hour of nothing between them. */
export interface Visit {
  /** ms since 1970, of its first page and of its last */
  startedAt: number
  endedAt: number
  /** Pages that were opened. */
  views: number
}

/**
 * What a source counts of whole visits of one visitor. A visit of one page lasts 0 s: when it was left nobody knows.
 *
 * @param source - what is counted
 * @param visits - those that count, in any order
 * @param since - ms since 1970: for coming back, the moment that days are counted from and that a visit must begin
 *   after; −Infinity counts each visit that begins within the days after another
 * @returns a number of visits, or seconds
 * @example visitSum({ type: 'bounces' }, [{ startedAt: 0, endedAt: 0, views: 1 }], 0) // 1
 */
export function visitSum(source: VisitSource, visits: readonly Visit[], since: number): number {
  const { which, adds } = countingOf(source)
  const counted =
    typeof which === 'object' && since !== -Infinity
      ? visits.filter(({ startedAt }) => startedAt > since && startedAt <= since + which.withinDays * DAY)
      : visits.filter((visit) => isCountedVisit(source, visit, visits))
  return adds === 'one'
    ? counted.length
    : counted.reduce((sum, { startedAt, endedAt }) => sum + Math.round((endedAt - startedAt) / 1000), 0)
}

/** Whether a visit is one that a source counts, among all visits of its visitor. */
export function isCountedVisit(source: VisitSource, { startedAt, views }: Visit, all: readonly Visit[]): boolean {
  const { which } = countingOf(source)
  if (which === 'each') return true
  if (which === 'onePage') return views === 1
  const from = startedAt - which.withinDays * DAY
  return all.some(({ endedAt }) => endedAt < startedAt && endedAt >= from)
}
