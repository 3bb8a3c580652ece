import { dayFinder } from './sessionRuns'
import { KIND, STEP_KINDS, type StepKind, type Visits } from './visits'

/** Kinds that are told apart by their names as well. */
const NAMED = new Set<number>([KIND.custom, KIND.error, KIND.amount])

export interface EventKind {
  kind: StepKind
  /** Of an event of the page's own, an error or an amount. */
  name: string | null
  count: number
  visitors: number
  /** By day of the event. */
  days: number[]
  /** ms since 1970 */
  last: number
  /** Page of the latest one. */
  page: string
}

/**
 * Everything that arrived within some days, by kind and name, the most frequent first. Of everybody: whoever installs
 * something looks for their own events.
 *
 * @param days - first moments of the days, and the end of the last
 */
export function eventKinds(visits: Visits, days: readonly number[]): EventKind[] {
  const found = new Map<number, EventKind & { lastVisitor: number }>()
  const names = visits.names.size
  const pageOf = visits.pageOfAddress.values
  const dayOf = dayFinder(days)
  for (const { count, kind, name, at, visitor, address } of visits.blocks())
    for (let row = 0; row < count; row++) {
      const day = dayOf(at[row]!)
      if (day < 0) continue
      const own = NAMED.has(kind[row]!) ? name[row]! : 0
      const key = kind[row]! * names + own
      let entry = found.get(key)
      if (!entry) {
        entry = {
          kind: STEP_KINDS[kind[row]!]!,
          name: visits.names.texts[own] || null,
          count: 0,
          visitors: 0,

          days: new Array<number>(days.length - 1).fill(0),
          last: 0,
          page: '',
          lastVisitor: -1,
        }
        found.set(key, entry)
      }
      entry.count++
      entry.days[day]!++
      if (entry.lastVisitor !== visitor[row]) {
        entry.lastVisitor = visitor[row]!
        entry.visitors++
      }
      if (at[row]! >= entry.last) {
        entry.last = at[row]!
        entry.page = visits.pages.texts[pageOf[address[row]!]!]!
      }
    }
  return [...found.values()]
    .map(({ lastVisitor: _, ...entry }) => entry)
    .sort((a, b) => b.count - a.count || (a.kind + a.name < b.kind + b.name ? -1 : 1))
}
