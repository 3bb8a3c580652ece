import { countedAmounts, countedSteps, type CountedSource } from './countedSteps'
import { eachSession, dayFinder } from './sessionRuns'
import { UNKNOWN } from './selection'
import { KIND, type Dimension, type Visits } from './visits'

/** Days that a visitor counts as active for after a visit: a week, and thirty days. */
export const ACTIVE_DAYS = { weekly: 7, monthly: 30 } as const
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
 * @param selected - 1 for each session that is looked at; those of the 29 days before count for who is active
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
  const dayOf = dayFinder(days)

  eachSession(visits, selected, (block, first, end, session) => {
    const day = dayOf(visits.sessionStart.values[session]!)
    if (day < 0) return
    const own = series.get(values ? values[session]! : 0) ?? others!
    let [views, sum, isConverted] = [0, 0, false]
    for (let row = first; row < end; row++) {
      if (block.kind[row] === KIND.page) views++
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

const COLUMNS = ['visitors', 'newVisitors', 'returning', 'sessions', 'views', 'converted', 'sum'] as const
const ONCE = ['visitors', 'newVisitors', 'returning', 'converted'] as const

/** Sums up one series; sessions of one visitor come one after the other, in the order of time. */
class PeriodCounts {
  private readonly columns: Record<(typeof COLUMNS)[number], Float64Array>
  /** By how many more are active on a day than on the day before. */
  private readonly changes: Record<keyof typeof ACTIVE_DAYS, Float64Array>
  /** Period in which the visitor was last counted. */
  private readonly last = { visitors: -1, newVisitors: -1, returning: -1, converted: -1 }
  private lastDay = -1
  private visitor = -1
  private hasAny = false
  private readonly periodOf: Int32Array

  constructor(periodOf: Int32Array) {
    this.periodOf = periodOf
    const periods = periodOf.at(-1)! + 1
    this.columns = Object.fromEntries(COLUMNS.map((name) => [name, new Float64Array(periods)])) as typeof this.columns
    const days = periodOf.length
    this.changes = { weekly: new Float64Array(days + 1), monthly: new Float64Array(days + 1) }
  }

  add(visitor: number, day: number, views: number, isNew: boolean, isConverted: boolean, sum: number): void {
    if (visitor !== this.visitor) {
      this.visitor = visitor
      for (const name of ONCE) this.last[name] = -1
      this.lastDay = -1
    }
    this.hasAny = true
    const period = this.periodOf[day]!
    if (period >= 0) {
      this.columns.sessions[period]!++
      this.columns.views[period]! += views
      this.columns.sum[period]! += sum
      this.countOnce('visitors', period)
      this.countOnce(isNew ? 'newVisitors' : 'returning', period)
      if (isConverted) this.countOnce('converted', period)
    }
    for (const span of ['weekly', 'monthly'] as const) this.activate(span, day)
    this.lastDay = day
  }

  private countOnce(name: (typeof ONCE)[number], period: number): void {
    if (this.last[name] === period) return
    this.last[name] = period
    this.columns[name][period]!++
  }

  /** The days that a visit makes active, without those that the visit before has made. */
  private activate(span: keyof typeof ACTIVE_DAYS, day: number): void {
    const until = (from: number) => Math.min(this.periodOf.length, from + ACTIVE_DAYS[span])
    const begins = this.lastDay < 0 ? day : Math.max(day, until(this.lastDay))
    if (begins >= until(day)) return
    this.changes[span][begins]!++
    this.changes[span][until(day)]!--
  }

  isAny(): boolean {
    return this.hasAny
  }

  series(): Omit<Series, 'value'> {
    const counts = Object.fromEntries(COLUMNS.map((name) => [name, [...this.columns[name]]])) as Omit<Series, 'value'>
    return {
      ...counts,
      sum: counts.sum.map((each) => Number(each.toPrecision(12))),
      weekly: this.activeAtEnds(this.changes.weekly),
      monthly: this.activeAtEnds(this.changes.monthly),
    }
  }

  /** Those who are active on the last day of each period. */
  private activeAtEnds(changes: Float64Array): number[] {
    const active = new Array<number>(this.columns.visitors.length).fill(0)
    let now = 0
    for (const [day, period] of this.periodOf.entries()) {
      now += changes[day]!
      if (period >= 0) active[period] = now
    }
    return active
  }
}
