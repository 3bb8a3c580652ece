import type { EventDetails } from '../core/measurement/eventDetails'
import type { Behavior } from '../core/evidence/behavior'
import { timeOrderedId } from '../core/identity/timeOrderedId'
import type { CollectedEvent } from '../shared/intake/collect'
import type { Database } from '../server/database/connect'
import { inTransaction } from '../server/database/inTransaction'
import { onceKey } from '../server/intake/onceKey'
import type { EventRow, ViewRow } from '../server/intake/rows'
import { writeArrivals, type Arrival } from '../server/intake/writeArrivals'
import { foldAndSummarize } from '../server/services/results/foldAndSummarize'
import { lastVisibleSeq } from '../server/services/results/fold'
import { SITES_WITH_NEWS } from '../server/services/results/queries'

/** Something that a visitor did at a moment, in a page view of its own unless one is named. */
export interface Happening {
  visitor: string
  /** ms since 1970 */
  at: number
  /** A page view, if nothing else is said. */
  type?: 'page' | CollectedEvent['type']
  path?: string
  experiment?: number
  variant?: number
  period?: number
  shownAfter?: number
  element?: string
  name?: string
  amount?: number
  currency?: string
  reference?: string
  label?: string
  /** Place on the page, and in 1/1000 of the element. */
  place?: [number, number]
  within?: [number, number]
  properties?: Behavior
  details?: EventDetails
  view?: Partial<ViewRow>
  /** What else happened in this page view. */
  events?: Omit<Happening, 'visitor' | 'view' | 'events'>[]
}

let count = 0
const newId = (at: number) => timeOrderedId(at, ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))

/** What intake would write of some happenings on a site. Events that are no page views lie on a page of their own. */
export function arrivalOf(site: { id: number; address: string }, happenings: readonly Happening[]): Arrival {
  const arrival: Arrival = { views: [], events: [] }
  for (const happening of happenings) {
    const { visitor, at, type = 'page', path = type === 'page' ? '/' : '/elsewhere' } = happening
    const view = viewOf(site, visitor, at, path, happening.view)
    arrival.views.push(view)
    if (type !== 'page') arrival.events.push(eventOf(happening, view))
    for (const each of happening.events ?? []) arrival.events.push(eventOf({ ...each, visitor }, view))
  }
  return arrival
}

function viewOf(
  site: { id: number; address: string },
  visitorId: string,
  at: number,
  path: string,
  changes: Partial<ViewRow> = {},
): ViewRow {
  return {
    siteId: site.id,
    visitorId,
    id: newId(at),
    madeAt: at,
    offset: 0,
    receivedAt: new Date(at),
    sessionId: 's',

    address: site.address + path,
    title: null,
    visit: 1,
    device: 'desktop',
    system: 'Linux',
    browser: 'Firefox',

    browserVersion: null,
    language: 'en-IE',
    timeZone: null,
    country: 'IE',
    region: null,
    city: null,

    referrerHost: null,
    campaignSource: null,
    campaignMedium: null,
    campaign: null,
    campaignTerm: null,
    campaignContent: null,

    screenWidth: null,
    screenHeight: null,
    windowWidth: null,
    windowHeight: null,
    network: null,
    attributes: null,
    personId: null,

    isTeam: false,
    isRobot: false,
    digest: '\\x00',
    ...changes,
  }
}

function eventOf(happening: Happening, view: ViewRow): EventRow {
  const { type = 'custom', at, name = null, amount = null, reference = null } = happening
  const { siteId, visitorId, sessionId: session, address } = view
  const receivedAt = new Date(Math.max(view.receivedAt.getTime(), at + view.offset))
  return {
    siteId,
    visitorId,
    id: newId(at),
    madeAt: at,
    offset: view.offset,
    viewId: view.id,
    receivedAt,
    type,

    experimentId: happening.experiment ?? null,
    variant: happening.variant ?? null,
    period: happening.period ?? null,
    shownAfter: happening.shownAfter ?? null,

    element: happening.element ?? null,
    label: happening.label ?? null,

    pageX: happening.place?.[0] ?? null,
    pageY: happening.place?.[1] ?? null,

    elementX: happening.within?.[0] ?? null,
    elementY: happening.within?.[1] ?? null,

    name,
    amount,
    currency: amount === null ? null : (happening.currency ?? 'EUR'),
    reference,
    once: reference === null ? null : onceKey({ type, name: name ?? '', reference, amount, session, address }),

    properties: happening.properties ?? null,
    details: happening.details ?? null,
    personId: view.personId,
    digest: '\\x00',
  }
}

/** Writes what happened, as intake does. */
export async function happen(
  database: Database,
  site: { id: number; address: string },
  happenings: readonly Happening[],
): Promise<void> {
  await writeArrivals(database.$client, [arrivalOf(site, happenings)])
}

/** Waits until everything that has come to a site is folded, whoever folds it. */
export async function folded(database: Database, siteId: number): Promise<void> {
  for (;;) {
    await foldAndSummarize(database)
    const upTo = await lastVisibleSeq(database.$client)
    const { rows } = await inTransaction(database.$client, (client) =>
      client.query<{ id: number }>(SITES_WITH_NEWS, [upTo]),
    )
    if (!rows.some(({ id }) => id === siteId)) return
  }
}
