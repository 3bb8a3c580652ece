import { countedSteps, type CountedSource, type IsCounted } from './countedSteps'
import { dayFinder, eachSession } from './sessionRuns'
import { KIND, type Block, type Visits } from './visits'

/** What happened on one page in the sessions that are looked at. */
export interface PageFigures {
  page: string
  views: number
  visitors: number
  /** Sessions with a view of it. */
  sessions: number
  entries: number
  /** Sessions that ended there. */
  exits: number
  /** Sessions that saw this page once and nothing else. */
  bounces: number
  /** ms in view, over the sessions that told it. */
  seen: number
  told: number
  errors: number
  /** Sessions that did, at or after their first view of it, what the metric counts. */
  conversions: number
  /** Visitors with such a session. */
  converters: number
  /** Sessions with a view of it, by day. */
  days: number[]
}

/** What a page's visitors had open before and after it, and where those who entered there came from. */
export interface PageFlow {
  before: Flow[]
  after: Flow[]
  sources: Flow[]
}
export interface Flow {
  /** A page; null for the beginning or the end of a session, and for the same page again its own name. */
  name: string | null
  views: number
}

/**
 * Figures of every page.
 *
 * @param selected - 1 for each session that is looked at (`selectSessions`)
 * @param days - first moments of the days by which sessions are counted, and the end of the last (ms since 1970)
 * @param source - what counts as a conversion; null for none
 */
export function pageReport(
  visits: Visits,
  selected: Uint8Array,
  days: readonly number[],
  source: CountedSource | null,
): PageFigures[] {
  const isCounted = source ? countedSteps(visits, source) : () => false
  const pageOf = visits.pageOfAddress.values
  const pages = visits.pages.size
  const dayCount = days.length - 1
  const column = () => new Uint32Array(pages)
  const [views, visitors, entries, exits] = [column(), column(), column(), column()]
  const [bounces, told, errors, conversions, converters] = [column(), column(), column(), column(), column()]
  const seen = new Float64Array(pages)
  // Before the days of a page, its sessions that began outside all of them.
  const slots = dayCount + 1
  const byDay = new Uint32Array(pages * slots)
  // Whom a page was last counted for: sessions and visitors come one after the other.
  const lastVisitor = new Int32Array(pages).fill(-1)
  const lastSession = new Int32Array(pages).fill(-1)
  const lastConverted = new Int32Array(pages).fill(-1)
  const lastTold = new Int32Array(pages).fill(-1)
  const dayOf = dayFinder(days)

  // Plain loops: this is the one report that is asked for all the time, of everything.
  for (const block of visits.blocks()) {
    const { runs, runSession, runVisitor, runStart, kind, address, value } = block
    for (let run = 0; run < runSession.length; run++) {
      const own = runSession[run]!
      if (selected[own] !== 1) continue
      const first = runs[run]!
      const end = runs[run + 1]!
      const who = runVisitor[run]!
      const slot = dayOf(runStart[run]!) + 1
      const lastCounted = source ? lastCountedRow(block, first, end, isCounted) : -1
      let entry = -1
      let exit = -1
      let opened = 0
      for (let row = first; row < end; row++) {
        const page = pageOf[address[row]!]!
        const what = kind[row]!
        if (what === KIND.page) {
          views[page]!++
          if (opened++ === 0) entry = page
          exit = page
          if (lastSession[page] === own) continue
          lastSession[page] = own
          byDay[page * slots + slot]!++
          if (row <= lastCounted) {
            conversions[page]!++
            if (lastConverted[page] !== who) converters[page]!++
            lastConverted[page] = who
          }
          if (lastVisitor[page] === who) continue
          lastVisitor[page] = who
          visitors[page]!++
        } else if (what === KIND.error) errors[page]!++
        else if (what === KIND.reading) {
          seen[page]! += value[row]!
          if (lastTold[page] === own) continue
          lastTold[page] = own
          told[page]!++
        }
      }
      if (opened === 0) continue
      entries[entry]!++
      exits[exit]!++
      if (opened === 1) bounces[entry]!++
    }
  }

  const found: PageFigures[] = []
  for (let page = 1; page < pages; page++) {
    if (views[page] === 0 && errors[page] === 0 && told[page] === 0) continue
    const ownSlots = byDay.subarray(page * slots, (page + 1) * slots)
    const sessions = ownSlots.reduce((sum, each) => sum + each, 0)
    found.push({
      page: visits.pages.texts[page]!,

      views: views[page]!,
      visitors: visitors[page]!,
      sessions,
      entries: entries[page]!,

      exits: exits[page]!,
      bounces: bounces[page]!,
      seen: seen[page]!,
      told: told[page]!,
      errors: errors[page]!,

      conversions: conversions[page]!,
      converters: converters[page]!,
      days: [...ownSlots.subarray(1)],
    })
  }
  return found.sort((a, b) => b.views - a.views || (a.page < b.page ? -1 : 1))
}

/** The last step of a session that is counted; −1 without one. */
function lastCountedRow(block: Block, first: number, end: number, isCounted: IsCounted): number {
  let last = -1
  for (let row = first; row < end; row++) if (isCounted(block, row)) last = row
  return last
}

/** Where visitors of a page come from and go next, by views of it; the most frequent first. */
export function pageFlow(visits: Visits, selected: Uint8Array, page: string): PageFlow {
  const wanted = visits.pages.find(page) ?? -1
  const pageOf = visits.pageOfAddress.values
  const before = new Map<number, number>()
  const after = new Map<number, number>()
  const sources = new Map<number, number>()
  const count = (of: Map<number, number>, key: number) => of.set(key, (of.get(key) ?? 0) + 1)
  const sourceOf = visits.sessionDimensions.source.values
  eachSession(visits, selected, ({ kind, address }, first, end, session) => {
    let previous = -1
    for (let row = first; row < end; row++) {
      if (kind[row] !== KIND.page) continue
      const own = pageOf[address[row]!]!
      if (own === wanted) count(before, previous)
      if (own === wanted && previous < 0) count(sources, sourceOf[session]!)
      if (previous === wanted) count(after, own)
      previous = own
    }
    if (previous === wanted) count(after, -1)
  })
  const named = (of: Map<number, number>, nameOf: (key: number) => string | null): Flow[] =>
    [...of].map(([key, views]) => ({ name: nameOf(key), views })).sort((a, b) => b.views - a.views)
  const asPage = (key: number) => (key < 0 ? null : visits.pages.texts[key]!)
  return {
    before: named(before, asPage),
    after: named(after, asPage),
    sources: named(sources, (key) => visits.dimensions.source.texts[key] || null),
  }
}
