import { countedAmounts, countedSteps, type CountedSource } from './countedSteps'
import { eachSession, dayFinder } from './sessionRuns'
import { UNKNOWN } from './selection'
import { KIND, type Dimension, type Visits } from './visits'

/** Days that a visitor counts as active for after a visit: a week, and thirty days. */
export const ACTIVE_DAYS = { weekly: 7, monthly: 30 } as const
/** Values of a dimension that have a line of their own; the rest is one line together. */
const MOST_SERIES = 6
export const OTHERS = 'others'

/** Counts by day, each as long as there are days. */
export interface Series {
  /** Value of the dimension; null where there is none. */
  value: string | null
  visitors: number[]
  /** Visitors at their first visit, and at a later one; who came twice on one day may be in both. */
  newVisitors: number[]
  returning: number[]
  sessions: number[]
  views: number[]
  /** Visitors with a session on that day or in the days before it. */
  weekly: number[]
  monthly: number[]
  /** Visitors who did what the metric counts in a session of that day, and what it adds up to. */
  converted: number[]
  sum: number[]
}

/**
 * Visitors and sessions by the day on which the session began.
 *
 * @param selected - 1 for each session that is looked at; those of the 29 days before count for who is active
 * @param days - first moments of the days, and the end of the last
 * @param shown - index of the first day that is given back
 * @param dimension - by whose values there are series; null for one of all
 * @param source - what is counted; null for nothing
 */
export function overTime(
  visits: Visits,
  selected: Uint8Array,
  days: readonly number[],
  shown: number,
  dimension: Dimension | null,
  source: CountedSource | null,
): Series[] {
  const dayCount = days.length - 1
  const values = dimension ? visits.sessionDimensions[dimension].values : null
  const keys = values ? topValues(visits, selected, days, shown, values, visits.dimensions[dimension!].size) : [0]
  const series = new Map<number, DayCounts>()
  const others = values ? new DayCounts(dayCount) : null
  for (const key of keys) series.set(key, new DayCounts(dayCount))
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
  return all.map(([value, counts]) => ({ value, ...counts.from(shown) }))
}

/** The values with the most sessions in the days that are shown. */
function topValues(
  visits: Visits,
  selected: Uint8Array,
  days: readonly number[],
  shown: number,
  values: Uint32Array,
  size: number,
): number[] {
  const sessions = new Uint32Array(size)
  for (let session = 0; session < selected.length; session++)
    if (selected[session] === 1 && visits.sessionStart.values[session]! >= days[shown]!) sessions[values[session]!]!++
  return [...sessions.keys()]
    .filter((value) => sessions[value]! > 0)
    .sort((a, b) => sessions[b]! - sessions[a]! || a - b)
    .slice(0, MOST_SERIES)
}

const COLUMNS = ['visitors', 'newVisitors', 'returning', 'sessions', 'views', 'converted', 'sum'] as const
const ONCE = ['visitors', 'newVisitors', 'returning', 'converted'] as const

/** Sums up one series; sessions of one visitor come one after the other, in the order of time. */
class DayCounts {
  private readonly columns: Record<(typeof COLUMNS)[number], Float64Array>
  /** By how many more are active on a day than on the day before. */
  private readonly changes: Record<keyof typeof ACTIVE_DAYS, Float64Array>
  /** Day on which the visitor was last counted. */
  private readonly last = { visitors: -1, newVisitors: -1, returning: -1, converted: -1 }
  private lastDay = -1
  private visitor = -1
  private readonly days: number

  constructor(days: number) {
    this.days = days
    this.columns = Object.fromEntries(COLUMNS.map((name) => [name, new Float64Array(days)])) as typeof this.columns
    this.changes = { weekly: new Float64Array(days + 1), monthly: new Float64Array(days + 1) }
  }

  add(visitor: number, day: number, views: number, isNew: boolean, isConverted: boolean, sum: number): void {
    if (visitor !== this.visitor) {
      this.visitor = visitor
      for (const name of ONCE) this.last[name] = -1
      this.lastDay = -1
    }
    this.columns.sessions[day]!++
    this.columns.views[day]! += views
    this.columns.sum[day]! += sum
    this.countOnce('visitors', day)
    this.countOnce(isNew ? 'newVisitors' : 'returning', day)
    if (isConverted) this.countOnce('converted', day)
    for (const span of ['weekly', 'monthly'] as const) this.activate(span, day)
    this.lastDay = day
  }

  private countOnce(name: (typeof ONCE)[number], day: number): void {
    if (this.last[name] === day) return
    this.last[name] = day
    this.columns[name][day]!++
  }

  /** The days that a visit makes active, without those that the visit before has made. */
  private activate(span: keyof typeof ACTIVE_DAYS, day: number): void {
    const until = (from: number) => Math.min(this.days, from + ACTIVE_DAYS[span])
    const begins = this.lastDay < 0 ? day : Math.max(day, until(this.lastDay))
    if (begins >= until(day)) return
    this.changes[span][begins]!++
    this.changes[span][until(day)]!--
  }

  isAny(): boolean {
    return this.columns.sessions.some((count) => count > 0)
  }

  from(shown: number): Omit<Series, 'value'> {
    const list = (column: Float64Array) => [...column.subarray(shown)]
    const summed = (changes: Float64Array) => {
      let active = 0
      return list(changes.subarray(0, this.days).map((change) => (active += change)))
    }
    const counts = Object.fromEntries(COLUMNS.map((name) => [name, list(this.columns[name])])) as Omit<Series, 'value'>
    return {
      ...counts,
      sum: counts.sum.map((each) => Number(each.toPrecision(12))),
      weekly: summed(this.changes.weekly),
      monthly: summed(this.changes.monthly),
    }
  }
}
