import { holds, testsIn, type Condition, type Group } from './condition'
import type { Fact, VisitorFacts } from './visitorFacts'

/** A page view as it was kept, with what it says of its visitor. */
export interface PastView {
  id: string
  session: string
  /** ms since 1970 */
  at: number
  address: string
  /** Whether it is one of the pages that are asked about. */
  isTested: boolean
  /** Device, browser, place and the like; which visit it was, and the host that was come from. */
  facts: Partial<VisitorFacts>
}

/** Everything that is kept of one visitor, views and events in the order of time. */
export interface Past {
  views: readonly PastView[]
  events: readonly { name: string; at: number }[]
  siteTimeZone: string
}

export interface Replayed {
  /** The first view of a tested page on which the audience would have let the visitor in; null for none. */
  entered: PastView | null
  /** Of the audience's own conditions, which did not hold on the first view of a tested page. */
  failing: number[]
}

/** What a site does not keep: only the page knows it while it is open. */
const NEVER_KEPT: readonly Fact[] = ['attribute', 'data', 'cookie']

/** Facts of an audience that cannot be known from the past. */
export function unknownFromPast(audience: Condition): Fact[] {
  return [...new Set(testsIn(audience).map(({ fact }) => fact))].filter((fact) => NEVER_KEPT.includes(fact))
}

/**
 * Whether an audience would have let a visitor in, by the very conditions that browsers decide by, view after view.
 *
 * @param audience - conditions
 * @param past - what is kept of the visitor, with at least one view of a tested page
 */
export function replayVisitor(audience: Group, past: Past): Replayed {
  const tested = past.views.filter(({ isTested }) => isTested)
  const entered = tested.find((view) => holds(audience, factsAt(view, past))) ?? null
  if (entered || !tested[0]) return { entered, failing: [] }
  const facts = factsAt(tested[0], past)
  const failing = audience.of.flatMap((each, index) =>
    holds(each, facts) === (audience.join === 'none') ? [index] : [],
  )
  return { entered, failing }
}

/** What a browser would have known on a view. */
function factsAt(view: PastView, { views, events, siteTimeZone }: Past): VisitorFacts {
  const landing = views.find(({ session }) => session === view.session)!
  const earlier = ({ at }: { at: number }) => at < view.at
  return {
    ...view.facts,
    now: view.at,
    siteTimeZone,
    address: view.address,
    landing: landing.address,
    referrer: landing.facts.referrer,
    firstSeen: views[0]!.at,
    pages: views.filter(earlier),
    events: events.filter(earlier),
  }
}
