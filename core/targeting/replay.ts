import { variantOf } from '../assignment/assignment'
import { holds, testsIn, type Condition, type FactTest, type Group } from './condition'
import type { DryRunThing } from './dryRun'
import { runningCounts } from './runningCounts'
import type { Circumstances, Fact, VisitorFacts } from './visitorFacts'
import { unitOf, whyNot, type Reason } from './whyNot'

/** A page view as it was kept, with what it says of its visitor. */
export interface PastView {
  id: string
  session: string
  /** ms since 1970 */
  at: number
  address: string
  /** Whether it is one of the pages that are asked about. */
  isTested: boolean
  /** What stands for the person, where the page has named one. */
  person?: string
  /** Device, browser, place and the like; which visit it was, and the host that was come from. */
  facts: Partial<Circumstances>
}

/** Everything that is kept of one visitor, views and events in the order of time. */
export interface Past {
  views: readonly PastView[]
  events: readonly { name: string; at: number }[]
  siteTimeZone: string
  adParameters?: VisitorFacts['adParameters']
}

export interface Replayed {
  /** The first view of a tested page on which the audience would have let the visitor in; null for none. */
  entered: PastView | null
  /** Of the audience's own conditions, which did not hold on the first view of a tested page. */
  failing: number[]
}

/** What a site does not keep: only the page knows it while it is open. */
const NEVER_KEPT: readonly Fact[] = ['data', 'cookie']

/**
 * Facts of an audience that cannot be known from the past.
 *
 * @param kept - attributes that the site keeps with views
 */
export function unknownFromPast(audience: Condition, kept: readonly string[] = []): Fact[] {
  const isUnknown = ({ fact, name = '' }: FactTest) =>
    NEVER_KEPT.includes(fact) || (fact === 'attribute' && !kept.includes(name))
  return [
    ...new Set(
      testsIn(audience)
        .filter(isUnknown)
        .map(({ fact }) => fact),
    ),
  ]
}

/**
 * Whether an audience would have let a visitor in, by the very conditions that browsers decide by, view after view.
 *
 * @param audience - conditions
 * @param past - what is kept of the visitor, with at least one view of a tested page
 */
export function replayVisitor(audience: Group, past: Past): Replayed {
  const tested = past.views.filter(({ isTested }) => isTested)
  const factsAt = factsAlong(past)
  const entered = tested.find((view) => holds(audience, factsAt(view))) ?? null
  if (entered || !tested[0]) return { entered, failing: [] }
  const facts = factsAt(tested[0])
  const failing = audience.of.flatMap((each, index) =>
    holds(each, facts) === (audience.join === 'none') ? [index] : [],
  )
  return { entered, failing }
}

/** What became of a visitor of the past with something that was not there yet. */
export interface ReplayedTerms {
  /** The first view on which it would have been shown, and the position of the variant; null for never. */
  entered: PastView | null
  variant: number | null
  /** For who never got it, the reason that was left in the end. */
  reason: Reason | null
}

/** In the order in which they are asked: who comes further in on one view was kept out by the later reason. */
const REASONS: readonly Reason[] = ['page', 'audience', 'person', 'holdout', 'test', 'group', 'share', 'waits']

/**
 * Whether and when a visitor of the past would have got something, by the very code that browsers decide by.
 *
 * @param thing - audiences without saved ones in them
 * @param visitor - id that buckets are drawn by
 * @param activatedBy - whether what the thing waits for came in a view; for what the past does not tell, whatever is assumed
 */
export function replayTerms(
  thing: DryRunThing,
  visitor: string,
  past: Past,
  activatedBy: (view: PastView) => boolean,
): ReplayedTerms {
  let reached = -1
  const factsAt = factsAlong(past)
  for (const view of past.views.filter(({ isTested }) => isTested)) {
    const facts = factsAt(view)
    const reason = whyNot(thing, visitor, {
      address: view.address,
      fulfils: (audience) => holds(audience, facts),
      isActive: () => activatedBy(view),
      variants: {},
      person: view.person,
    })
    if (reason === null) {
      const unit = unitOf(thing, visitor, view.person) ?? visitor
      const variant = thing.weights ? variantOf(unit, { ...thing, weights: thing.weights }) : null
      return { entered: view, variant, reason: null }
    }
    reached = Math.max(reached, REASONS.indexOf(reason))
  }
  return { entered: null, variant: null, reason: REASONS[reached] ?? null }
}

/**
 * What a browser would have known on a visitor's views, one after the other. Asked of views in the order of time, each
 * costs the same, however many there were before.
 *
 * @returns the facts on a view of the past
 */
export function factsAlong(past: Past): (view: PastView) => VisitorFacts {
  const { views, siteTimeZone, adParameters } = past
  const timesDone = runningCounts(past)
  const landings = new Map<string, PastView>()
  for (const view of views) if (!landings.has(view.session)) landings.set(view.session, view)
  return (view) => {
    const { facts } = view
    const landing = landings.get(view.session)!
    // Written out: objects that are all of one shape take a tenth of the time, and there are very many of them.
    return {
      now: view.at,
      siteTimeZone,
      timeZone: facts.timeZone,
      device: facts.device,
      system: facts.system,
      browser: facts.browser,
      browserVersion: facts.browserVersion,
      screenWidth: facts.screenWidth,
      language: facts.language,
      country: facts.country,
      region: facts.region,
      city: facts.city,
      address: view.address,
      adParameters,
      landing: landing.address,
      referrer: landing.facts.referrer,
      visits: facts.visits,
      firstSeen: views[0]!.at,
      attributes: facts.attributes,
      timesDone,
    }
  }
}
