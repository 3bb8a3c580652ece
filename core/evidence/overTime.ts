import { countedAmounts, countedSteps, type CountedSource } from './countedSteps'
import { eachSession, dayFinder } from './sessionRuns'
import { UNKNOWN } from './selection'
import { KIND, type Dimension, type Visits } from './visits'

/** Days that a visitor counts as active for after a visit: a week, and four of them. */
export const ACTIVE_DAYS = { weekly: 7, monthly: 28 } as const
/** Values of a dimension that have a line of their own; the rest is one line together. */
const MOST_SERIES = 6
export const OTHERS = 'others'

/** The periods that are shown, such as the weeks of some days, one after the other. */
export interface ShownPeriods {
  /** First moments of all days, those before the first period too, and the end of the last. */
  days: readonly number[]
  /** Index among these days of the first day of each period; the last one goes on to the end. */
  starts: readonly number[]
}

/** Counts by period, each as long as there are periods. */
export interface Series {
  /** Value of the dimension; null where there is none. */
  value: string | null
  visitors: number[]
  /** Visitors at their first visit, and at a later one; who came twice in one period may be in both. */
  newVisitors: number[]
  returning: number[]
  sessions: number[]
  views: number[]
  /** Visitors with a session on the last day of the period or in the days before it. */
  weekly: number[]
  monthly: number[]
  /** Visitors who did what the metric counts in a session of the period, and what it adds up to. */
  converted: number[]
  sum: number[]
}

/**
 * Visitors and sessions by the period in which the session began.
 *
 * @param selected - 1 for each session that is looked at; those of the 27 days before count for who is active
 * @param dimension - by whose values there are series; null for one of all
 * @param source - what is counted; null for nothing
 */
export function overTime(
  visits: Visits,
  selected: Uint8Array,
  { days, starts }: ShownPeriods,
  dimension: Dimension | null,
  source: CountedSource | null,
): Series[] {
  const periodOf = periodsByDay(days.length - 1, starts)
  const values = dimension ? visits.sessionDimensions[dimension].values : null
  const keys = values ? topValues(visits, selected, days[starts[0]!]!, values, visits.dimensions[dimension!].size) : [0]
  const series = new Map<number, PeriodCounts>()
  const others = values ? new PeriodCounts(periodOf) : null
  for (const key of keys) series.set(key, new PeriodCounts(periodOf))
  const isCounted = source ? countedSteps(visits, source) : () => false
  const amountOf = source ? countedAmounts(source) : () => 0
  const isNew = visits.dimensions.visitor.find('new') ?? -1
  const visitOf = visits.sessionDimensions.visitor.values
  const startOf = visits.sessionStart.values
  const dayOf = dayFinder(days)

  eachSession(visits, selected, (block, first, end, session) => {
    const day = dayOf(startOf[session]!)
    if (day < 0) return
    const own = series.get(values ? values[session]! : 0) ?? others!
    let [views, sum, isConverted] = [0, 0, false]
    const { kind } = block
    for (let row = first; row < end; row++) {
      if (kind[row] === KIND.page) views++
      if (!source || !isCounted(block, row)) continue
      isConverted = true
      sum += amountOf(block, row)
    }
    own.add(block.visitor[first]!, day, views, visitOf[session] === isNew, isConverted, sum)
  })
  const named = keys.map(
    (key) => [values ? visits.dimensions[dimension!].texts[key] || UNKNOWN : null, series.get(key)!] as const,
  )
  const all = others && others.isAny() ? [...named, [OTHERS, others] as const] : named
  return all.map(([value, counts]) => ({ value, ...counts.series() }))
}

/** The period of each day; none, which is −1, before the first. */
function periodsByDay(days: number, starts: readonly number[]): Int32Array {
  const periods = new Int32Array(days).fill(-1)
  for (const [period, start] of starts.entries()) periods.fill(period, start)
  return periods
}

/** The values with the most sessions from a moment on. */
function topValues(visits: Visits, selected: Uint8Array, from: number, values: Uint32Array, size: number): number[] {
  const sessions = new Uint32Array(size)
  for (let session = 0; session < selected.length; session++)
    if (selected[session] === 1 && visits.sessionStart.values[session]! >= from) sessions[values[session]!]!++
  return [...sessions.keys()]
    .filter((value) => sessions[value]! > 0)
    .sort((a, b) => sessions[b]! - sessions[a]! || a - b)
    .slice(0, MOST_SERIES)
}

/** Sums up one series; sessions of one visitor come one after the other, in the order of time. */
class PeriodCounts {
  private readonly sessions: Float64Array
  private readonly views: Float64Array
  private readonly sum: Float64Array
  private readonly once: Record<'visitors' | 'newVisitors' | 'returning' | 'converted', CountedOnce>
  /** By how many more are active on a day than on the day before. */
  private readonly changes: Record<keyof typeof ACTIVE_DAYS, Float64Array>
  private lastDay = -1
  private visitor = -1
  private hasAny = false
  private readonly periodOf: Int32Array

  constructor(periodOf: Int32Array) {
    this.periodOf = periodOf
    const periods = periodOf.at(-1)! + 1
    this.sessions = new Float64Array(periods)
    this.views = new Float64Array(periods)
    this.sum = new Float64Array(periods)
    this.once = {
      visitors: new CountedOnce(periods),
      newVisitors: new CountedOnce(periods),
      returning: new CountedOnce(periods),
      converted: new CountedOnce(periods),
    }
    const days = periodOf.length
    this.changes = { weekly: new Float64Array(days + 1), monthly: new Float64Array(days + 1) }
  }

  add(visitor: number, day: number, views: number, isNew: boolean, isConverted: boolean, sum: number): void {
    if (visitor !== this.visitor) {
      this.visitor = visitor
      this.lastDay = -1
    }
    this.hasAny = true
    const period = this.periodOf[day]!
    if (period >= 0) {
      this.sessions[period]!++
      this.views[period]! += views
      this.sum[period]! += sum
      const { visitors, newVisitors, returning, converted } = this.once
      visitors.add(visitor, period)
      if (isNew) newVisitors.add(visitor, period)
      else returning.add(visitor, period)
      if (isConverted) converted.add(visitor, period)
    }
    this.activate(this.changes.weekly, ACTIVE_DAYS.weekly, day)
    this.activate(this.changes.monthly, ACTIVE_DAYS.monthly, day)
    this.lastDay = day
  }

  /** The days that a visit makes active, without those that the visit before has made. */
  private activate(changes: Float64Array, span: number, day: number): void {
    const most = this.periodOf.length
    const ends = Math.min(most, day + span)
    const begins = this.lastDay < 0 ? day : Math.max(day, Math.min(most, this.lastDay + span))
    if (begins >= ends) return
    changes[begins]!++
    changes[ends]!--
  }

  isAny(): boolean {
    return this.hasAny
  }

  series(): Omit<Series, 'value'> {
    const { visitors, newVisitors, returning, converted } = this.once
    return {
      visitors: [...visitors.counts],
      newVisitors: [...newVisitors.counts],
      returning: [...returning.counts],
      sessions: [...this.sessions],
      views: [...this.views],
      converted: [...converted.counts],
      sum: Array.from(this.sum, (each) => Number(each.toPrecision(12))),
      weekly: this.activeAtEnds(this.changes.weekly),
      monthly: this.activeAtEnds(this.changes.monthly),
    }
  }

  /** Those who are active on the last day of each period. */
  private activeAtEnds(changes: Float64Array): number[] {
    const active = new Array<number>(this.sessions.length).fill(0)
    let now = 0
    for (const [day, period] of this.periodOf.entries()) {
      now += changes[day]!
      if (period >= 0) active[period] = now
    }
    return active
  }
}

/** Counts a visitor once in each period. */
class CountedOnce {
  readonly counts: Float64Array
  private visitor = -1
  private period = -1

  constructor(periods: number) {
    this.counts = new Float64Array(periods)
  }

  add(visitor: number, period: number): void {
    if (this.visitor === visitor && this.period === period) return
    this.visitor = visitor
    this.period = period
    this.counts[period]!++
  }
}
