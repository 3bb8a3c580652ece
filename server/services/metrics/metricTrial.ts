import type { CountedEvent, MetricProposal, MetricTrial } from '../../../shared/metrics/replies'
import { and, desc, eq, gte, inArray, lt } from 'drizzle-orm'
import { pageName } from '../../../core/evidence/visits'
import { elementInWords } from '../../../core/measurement/elementInWords'
import {
  isCounted,
  isOfVisits,
  type MeasuredEvent,
  type MetricDefinition,
  type MetricSource,
  type VisitSource,
} from '../../../core/measurement/metric'
import type { EventDetails } from '../../../core/measurement/eventDetails'
import { isCountedVisit } from '../../../core/measurement/visitSum'
import { metricProposals, type ArrivedKinds } from '../../../core/measurement/metricProposals'
import { dayAfter, firstMoment } from '../../../core/time/siteDay'
import type { Queries } from '../../database/connect'
import { event, pageView, session } from '../../database/schema'
import { figureDays } from '../hypotheses/ideaFigures'
import { groupBy } from '../groupBy'
import { findSite } from '../sites/sites'
import { figuresOf, listMetrics, type FiguresPlace } from './metricLibrary'

/** Events that are looked through for a sample, the latest. */
const LOOKED_THROUGH = 5000
const MOST_SAMPLED = 10

const EVENT_TYPES = {
  click: ['click'],
  submit: ['submit'],
  pageAmount: ['amount'],
  event: ['custom'],

  engagement: ['click', 'submit'],
  error: ['error'],
  timeInView: ['reading'],
} as const

interface Days {
  from: string
  to: string
}

/** What a definition came to in the last four weeks, and the latest events that it counts. */
export async function tryMetric(place: FiguresPlace, definition: MetricDefinition, now: Date): Promise<MetricTrial> {
  const { figures, ...days } = await figuresOf(place, [definition], now)
  const sample = await countedEvents(place.database, place.siteId, definition.source, days)
  return { ...days, figures: figures[0]!, sample }
}

async function countedEvents(
  database: Queries,
  siteId: number,
  source: MetricSource,
  days: Days,
): Promise<CountedEvent[]> {
  const { timeZone, address } = await findSite(database, siteId)
  const { host } = new URL(address)
  const from = new Date(firstMoment(days.from, timeZone))
  const until = new Date(firstMoment(dayAfter(days.to), timeZone))
  if (isOfVisits(source)) return countedVisits(database, siteId, source, host, { from, until })
  const rows = await latestOf(database, siteId, source, from, until)
  return rows
    .filter((row) => isCounted(source, measured(row)))
    .slice(0, MOST_SAMPLED)
    .map(({ at, visitor, address: of, element, label, name, amount, details }) => ({
      at: at.toISOString(),
      visitor,
      page: pageName(of, host),
      what: element ? elementInWords({ path: element, label }) : withDetails(name, details),
      amount: amount === null ? null : Number(amount),
    }))
}

/** An event with what was said of it: order (vehicle: car, seats: 4). */
function withDetails(name: string | null, details: EventDetails | null): string | null {
  if (!name || !details) return name
  return `${name} (${Object.entries(details)
    .map(([detail, value]) => `${detail}: ${value}`)
    .join(', ')})`
}

type Latest = Awaited<ReturnType<typeof latestOf>>[number]

/** The latest visits that a source counts. */
async function countedVisits(
  database: Queries,
  siteId: number,
  source: VisitSource,
  host: string,
  { from, until }: { from: Date; until: Date },
): Promise<CountedEvent[]> {
  const rows = await database
    .select({
      visitor: session.visitorId,
      startedAt: session.startedAt,
      endedAt: session.endedAt,

      views: session.views,
      entry: session.entryAddress,
    })
    .from(session)
    .where(and(eq(session.siteId, siteId), gte(session.startedAt, from), lt(session.startedAt, until)))
    .orderBy(desc(session.startedAt))
    .limit(LOOKED_THROUGH)
  const visits = rows.map(({ startedAt, endedAt, ...rest }) => ({
    ...rest,
    startedAt: startedAt.getTime(),
    endedAt: endedAt.getTime(),
  }))
  const own = groupBy(visits, ({ visitor }) => visitor)
  return visits
    .filter((visit) => isCountedVisit(source, visit, own.get(visit.visitor)!))
    .slice(0, MOST_SAMPLED)
    .map((visit) => {
      const seconds = Math.round((visit.endedAt - visit.startedAt) / 1000)
      return {
        at: new Date(visit.startedAt).toISOString(),
        visitor: visit.visitor,
        page: pageName(visit.entry, host),
        what: `${visit.views} ${visit.views === 1 ? 'page' : 'pages'}, ${seconds} s`,
        amount: source.type === 'visitTime' ? seconds : null,
      }
    })
}

async function latestOf(
  database: Queries,
  siteId: number,
  source: Exclude<MetricSource, VisitSource>,
  from: Date,
  until: Date,
) {
  if (source.type === 'visit') {
    const rows = await database
      .select({
        id: pageView.id,
        at: pageView.occurredAt,
        visitor: pageView.visitorId,

        address: pageView.address,
        name: pageView.title,
      })
      .from(pageView)
      .where(and(eq(pageView.siteId, siteId), gte(pageView.occurredAt, from), lt(pageView.occurredAt, until)))
      .orderBy(desc(pageView.occurredAt))
      .limit(LOOKED_THROUGH)
    return rows.map((row) => ({ ...row, type: 'page', element: null, label: null, amount: null, details: null }))
  }
  return database
    .select({
      id: event.id,
      at: event.occurredAt,
      visitor: event.visitorId,
      address: event.address,
      type: event.type,

      element: event.element,
      label: event.label,
      name: event.name,
      amount: event.amount,
      details: event.details,
    })
    .from(event)
    .where(
      and(
        eq(event.siteId, siteId),
        inArray(event.type, EVENT_TYPES[source.type]),
        gte(event.occurredAt, from),
        lt(event.occurredAt, until),
      ),
    )
    .orderBy(desc(event.occurredAt))
    .limit(LOOKED_THROUGH)
}

function measured({ id, at, address, type, element, name, details }: Latest): MeasuredEvent {
  return { id, view: id, at: at.getTime(), type: type as MeasuredEvent['type'], address, element, name, details }
}

/** Metrics that what arrived in the last four weeks suggests, beside those that the site has. */
export async function proposeMetrics(place: FiguresPlace, now: Date): Promise<MetricProposal[]> {
  const { database, siteId } = place
  const { timeZone } = await findSite(database, siteId)
  const days = figureDays(timeZone, now)
  return metricProposals(await arrivedKinds(place, days), await listMetrics(database, siteId))
}

async function arrivedKinds({ database, evidence, siteId }: FiguresPlace, days: Days): Promise<ArrivedKinds> {
  const { kinds } = await evidence.ask(siteId, 'events', days)
  const { pages } = await evidence.ask(siteId, 'pages', days)
  const named = kinds.flatMap(({ kind, name, visitors, page }) =>
    name ? [{ kind: kind as string, name, visitors, page }] : [],
  )
  return {
    pages: pages.map(({ page, visitors }) => ({ path: page, visitors })),
    amounts: named.filter(({ kind }) => kind === 'amount').map(({ name, ...rest }) => ({ ...rest, selector: name })),
    events: await withAmounts(
      database,
      siteId,
      named.filter(({ kind }) => kind === 'custom'),
    ),
    forms: await sentForms(database, siteId),
  }
}

/** Whether events of a name carry amounts: as the latest one does. */
async function withAmounts(
  database: Queries,
  siteId: number,
  events: readonly { name: string; visitors: number }[],
): Promise<ArrivedKinds['events']> {
  if (events.length === 0) return []
  const names = events.map(({ name }) => name)
  const latest = await database
    .selectDistinctOn([event.name], { name: event.name, amount: event.amount })
    .from(event)
    .where(and(eq(event.siteId, siteId), eq(event.type, 'custom'), inArray(event.name, names)))
    .orderBy(event.name, desc(event.occurredAt))
  const amounts = new Map(latest.map(({ name, amount }) => [name, amount !== null]))
  return events.map(({ name, visitors }) => ({ name, visitors, hasAmounts: amounts.get(name) ?? false }))
}

/** Forms with an id among those that were sent lately. */
async function sentForms(database: Queries, siteId: number): Promise<ArrivedKinds['forms']> {
  const rows = await database
    .select({ element: event.element, visitor: event.visitorId })
    .from(event)
    .where(and(eq(event.siteId, siteId), eq(event.type, 'submit')))
    .orderBy(desc(event.occurredAt))
    .limit(LOOKED_THROUGH)
  const visitors = new Map<string, Set<string>>()
  for (const { element, visitor } of rows) {
    const id = /#((?:[\w-]|\\.)+)[^>]*$/.exec(element ?? '')?.[1]
    if (!id) continue
    const known = visitors.get(`#${id}`) ?? new Set()
    visitors.set(`#${id}`, known.add(visitor))
  }
  return [...visitors]
    .map(([selector, those]) => ({ selector, visitors: those.size }))
    .sort((a, b) => b.visitors - a.visitors)
}
