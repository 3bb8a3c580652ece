import type { PoolClient } from 'pg'
import { PERSON } from '../../../core/identity/personId'
import { firstExposure, isBefore } from '../../../core/measurement/firstExposure'
import {
  addEvents,
  firstOfEach,
  NOTHING,
  withVisits,
  type VisitorNumbers,
} from '../../../core/measurement/visitorNumbers'
import type { Visit } from '../../../core/measurement/visitSum'
import type { BehaviorType } from '../../../core/evidence/behavior'
import { leftOutReason, type VisitorTraffic } from '../../../core/traffic/leftOut'
import {
  groupBy,
  readFoldContext,
  type FoldContext,
  type KnownVisitor,
  type MeasuredMetric,
  type StoredEvent,
} from './foldContext'
import * as plans from './plans'
import {
  keyOf,
  readExposures,
  readValues,
  saveExposures,
  saveValues,
  type Exposures,
  type ExposureRow,
  type ValueChange,
  type ValueRow,
} from './saveNumbers'
import { segmentsOf, type ExposingView } from './segmentsOf'

/** What metrics count, beside page views. */
export const MEASURED_EVENTS: readonly StoredEvent['type'][] = [
  'click',
  'submit',
  'amount',
  'custom',
  'error',
  'reading',
]
const MEASURED: readonly StoredEvent['type'][] = ['page', ...MEASURED_EVENTS]

/** A new event of any type; of an exposure with what was seen. */
interface ArrivedEvent extends Omit<StoredEvent, 'type'> {
  type: StoredEvent['type'] | 'exposure' | BehaviorType
  experiment: number | null
  variant: number | null
}
/** What a portion of new views and events has changed. */
export interface Folded {
  /** Experiments whose numbers may have changed. */
  experiments: Set<number>
  /** Time of the latest of it, in ms since 1970. */
  asOf: number
}

/**
 * Folds what came between two numbers into a site's visitors, sessions, exposures, values and sums.
 *
 * An event that comes to an exposure that stands is added to the visitor's values, at a cost that does not depend on
 * what the visitor did before. Where the exposure itself is new, or turns out to be another, the visitor's values are
 * computed from all of their events: as many as a visitor may have before they are left out.
 */
export async function foldPortion(client: PoolClient, siteId: number, from: number, to: number): Promise<Folded> {
  const context = await readFoldContext(client, siteId)
  const hasPersons = context.ofPersons.size > 0
  const visitors = await countVisitors(client, siteId, from, to, hasPersons)
  await client.query(plans.SAVE_SESSIONS, [siteId, from, to])
  await client.query(plans.COUNT_FOREIGN_AMOUNTS, [siteId, from, to])

  const arrived = (await client.query<ArrivedEvent>(plans.newEvents(hasPersons), [siteId, from, to])).rows
  const concerned = [...new Set([...arrived.map(({ visitor }) => visitor), ...visitors.newlyLeftOut])]
  const known = await readExposures(client, siteId, concerned)
  const changed = await changedExposures(client, context, arrived, known, visitors.byId)
  const measured = arrived.filter(isMeasured).map(context.inMoney)
  const told = await tellOrdersApart(client, context, from, measured)
  for (const visitor of told.recompute) {
    for (const each of known.get(visitor)?.values() ?? []) if (!changed.has(keyOf(each))) changed.set(keyOf(each), each)
  }

  await saveExposures(client, siteId, [...changed.values()], known)
  await measureAnew(client, context, [...changed.values()], to, wholeHistories(arrived, measured, visitors.byId))
  const touched = await addToValues(client, context, told.events, known, changed)
  return {
    experiments: new Set([...[...changed.values()].map(({ experiment }) => experiment), ...touched]),
    asOf: arrived.reduce((latest, { at }) => Math.max(latest, at), 0),
  }
}

async function countVisitors(client: PoolClient, siteId: number, from: number, to: number, hasPersons: boolean) {
  const { rows } = await client.query<KnownVisitor & VisitorTraffic>(plans.countVisitors(hasPersons), [
    siteId,
    from,
    to,
  ])
  const newlyLeftOut: { id: string; reason: string }[] = []
  for (const visitor of rows) {
    const reason = visitor.leftOut === null ? leftOutReason(visitor) : null
    if (reason === null) continue
    visitor.leftOut = reason
    newlyLeftOut.push({ id: visitor.id, reason })
  }
  if (newlyLeftOut.length > 0) await client.query(plans.LEAVE_OUT_VISITORS, [siteId, JSON.stringify(newlyLeftOut)])
  return {
    byId: new Map(rows.map((row) => [row.id, row])),
    newlyLeftOut: newlyLeftOut.map(({ id }) => id),
  }
}

/** Exposures that are new or turn out to be other than they were, as they are to be stored. */
async function changedExposures(
  client: PoolClient,
  context: FoldContext,
  arrived: readonly ArrivedEvent[],
  known: Exposures,
  visitors: ReadonlyMap<string, KnownVisitor>,
): Promise<Map<string, ExposureRow>> {
  const changed = new Map<string, ExposureRow>()
  const sightings = groupBy(
    arrived.filter((event) => isSighting(event, context)) as (ArrivedEvent & { experiment: number; variant: number })[],
    keyOf,
  )
  for (const [key, seen] of sightings) {
    const { visitor, experiment } = seen[0]!
    const before = known.get(visitor)?.get(experiment) ?? null
    const after = firstExposure(before, seen)!
    const isSame = before !== null && after.id === before.id && after.crossed === before.crossed
    if (!isSame)
      changed.set(key, {
        ...after,
        visitor,
        experiment,
        day: context.dayOf(after.at),
        segments: before?.id === after.id ? before.segments : {},
        leftOut: null,
      })
  }
  await addSegments(
    client,
    context.siteId,
    [...changed.values()].filter((each) => Object.keys(each.segments).length === 0),
    new Map(arrived.map(({ id, browser, visitor }) => [id, browser ?? visitor])),
  )
  for (const own of known.values())
    for (const each of own.values()) if (!changed.has(keyOf(each))) changed.set(keyOf(each), { ...each })
  for (const [key, each] of changed) {
    const before = known.get(each.visitor)?.get(each.experiment)
    const visitor = visitors.get(each.visitor)
    // A visitor who did nothing new is as they were.
    each.leftOut = visitor ? context.leftOut(each.experiment, visitor, each.at) : (before?.leftOut ?? null)
    const isSame = before && before.id === each.id && before.crossed === each.crossed && before.leftOut === each.leftOut
    if (isSame) changed.delete(key)
  }
  return changed
}

function isMeasured(event: ArrivedEvent): event is ArrivedEvent & StoredEvent {
  return (MEASURED as readonly string[]).includes(event.type)
}

function isSighting(
  { type, experiment, variant, at, visitor }: ArrivedEvent,
  { ends, ofPersons }: FoldContext,
): boolean {
  if (type !== 'exposure' || experiment === null || variant === null || !ends.has(experiment)) return false
  if (visitor.startsWith(PERSON) !== ofPersons.has(experiment)) return false
  const end = ends.get(experiment) ?? null
  return end === null || at <= end
}

/** @param browsers - ids of visitors by the events that their browsers told: of a person, whose device it was */
async function addSegments(
  client: PoolClient,
  siteId: number,
  exposures: readonly ExposureRow[],
  browsers: ReadonlyMap<string, string>,
): Promise<void> {
  if (exposures.length === 0) return
  const browserOf = ({ id, visitor }: ExposureRow) => browsers.get(id) ?? visitor
  const asked = JSON.stringify(exposures.map((each) => ({ visitor: browserOf(each), view: each.view })))
  const { rows } = await client.query<ExposingView>(plans.EXPOSING_VIEWS, [siteId, asked])
  const views = new Map(rows.map((row) => [`${row.visitor} ${row.view}`, row]))
  for (const each of exposures) each.segments = segmentsOf(views.get(`${browserOf(each)} ${each.view}`))
}

/**
 * The new events without orders that were told before. Where an order turns out to be older than what was known of it,
 * the visitor's values are to be computed anew.
 */
async function tellOrdersApart(
  client: PoolClient,
  { siteId, ofPersons }: FoldContext,
  from: number,
  arrived: readonly StoredEvent[],
) {
  const recompute = new Set<string>()
  const orders = arrived.filter(({ once }) => once)
  if (orders.length === 0) return { events: arrived, recompute }
  const { rows } = await client.query<{ visitor: string; once: string; at: number; id: string }>(
    plans.knownOrders(ofPersons.size > 0),
    [siteId, [...new Set(orders.map(({ visitor }) => visitor))], [...new Set(orders.map(({ once }) => once))], from],
  )
  const known = new Map(rows.map((row) => [`${row.visitor} ${row.once}`, row]))
  const events = arrived.filter((event) => {
    const before = event.once ? known.get(`${event.visitor} ${event.once}`) : undefined
    if (before && isBefore(event, before)) recompute.add(event.visitor)
    return !before
  })
  return { events, recompute }
}

type Histories = ReadonlyMap<string, readonly StoredEvent[]>

/** Events of visitors of whom nothing came before this portion: what arrived is all that they ever did. */
function wholeHistories(
  arrived: readonly ArrivedEvent[],
  measured: readonly StoredEvent[],
  visitors: ReadonlyMap<string, VisitorTraffic>,
): Histories {
  const counts = new Map<string, number>()
  for (const { visitor } of arrived) counts.set(visitor, (counts.get(visitor) ?? 0) + 1)
  const isWhole = (visitor: string) => visitors.get(visitor)?.events === counts.get(visitor)
  return groupBy(
    measured.filter(({ visitor }) => isWhole(visitor)),
    ({ visitor }) => visitor,
  )
}

async function readHistories(client: PoolClient, context: FoldContext, visitors: readonly string[], to: number) {
  if (visitors.length === 0) return new Map<string, StoredEvent[]>()
  const asked = [context.siteId, visitors, to, MEASURED_EVENTS]
  const { rows } = await client.query<StoredEvent>(plans.eventsOfVisitors(context.ofPersons.size > 0), asked)
  return groupBy(rows.map(context.inMoney), ({ visitor }) => visitor)
}

/** Visits of visitors, where a metric counts them. */
async function readVisits(
  client: PoolClient,
  { siteId, needsVisits, ofPersons }: FoldContext,
  visitors: readonly string[],
): Promise<(visitor: string) => readonly Visit[]> {
  if (!needsVisits || visitors.length === 0) return () => []
  const { rows } = await client.query<Visit & { visitor: string }>(plans.visitsOfVisitors(ofPersons.size > 0), [
    siteId,
    visitors,
  ])
  const visits = groupBy(rows, ({ visitor }) => visitor)
  return (visitor) => visits.get(visitor) ?? []
}

/** Values of visitors from all that they ever did. Whoever is left out for good has none. */
async function measureAnew(
  client: PoolClient,
  context: FoldContext,
  exposures: readonly ExposureRow[],
  to: number,
  whole: Histories = new Map(),
): Promise<void> {
  const counted = exposures.filter(({ leftOut }) => leftOut === null || leftOut === 'excluded')
  if (counted.length === 0) return
  const visitors = [...new Set(counted.map(({ visitor }) => visitor))]
  const unread = visitors.filter((visitor) => !whole.has(visitor))
  const histories = new Map([...whole, ...(await readHistories(client, context, unread, to))])
  const events = new Map(visitors.map((visitor) => [visitor, firstOfEach(histories.get(visitor) ?? [])]))
  const visitsOf = await readVisits(client, context, visitors)
  const changes = counted.flatMap((exposure): ValueChange[] => {
    const { visitor } = exposure
    const measured = context.measured(exposure)
    return context.metricsOf(exposure.experiment).flatMap((metric): ValueChange[] => {
      const ofEvents = addEvents(metric, NOTHING, events.get(visitor) ?? [], measured)
      const numbers = withVisits(metric, ofEvents, visitsOf(visitor), measured)
      return isSomething(numbers) ? [{ sign: 1, exposure, value: valueRow(exposure, metric, numbers) }] : []
    })
  })
  const values = changes.map(({ value }) => value)
  await saveValues(client, context.siteId, values, changes)
}

/** Adds new events to the values of visitors whose exposures stand. */
async function addToValues(
  client: PoolClient,
  context: FoldContext,
  arrived: readonly StoredEvent[],
  known: Exposures,
  changed: ReadonlyMap<string, ExposureRow>,
): Promise<Set<number>> {
  const touched = new Set<number>()
  const events = groupBy(arrived, ({ visitor }) => visitor)
  const visitors = [...events.keys()].filter((visitor) => known.has(visitor))
  const rows = await readValues(client, context.siteId, visitors)
  const before = new Map(rows.map((row) => [`${keyOf(row)} ${row.metric}`, row]))
  const visitsOf = await readVisits(client, context, visitors)
  const values: ValueRow[] = []
  const changes: ValueChange[] = []
  for (const visitor of visitors) {
    const own = firstOfEach(events.get(visitor)!)
    for (const exposure of known.get(visitor)!.values()) {
      const isForGood = exposure.leftOut !== null && exposure.leftOut !== 'excluded'
      if (changed.has(keyOf(exposure)) || isForGood) continue
      const measured = context.measured(exposure)
      for (const metric of context.metricsOf(exposure.experiment)) {
        const earlier = before.get(`${keyOf(exposure)} ${metric.id}`)
        const now = withVisits(
          metric,
          addEvents(metric, earlier ?? NOTHING, own, measured),
          visitsOf(visitor),
          measured,
        )
        if (isSame(now, earlier ?? NOTHING)) continue
        const value = valueRow(exposure, metric, now)
        values.push(value)
        if (earlier) changes.push({ sign: -1, exposure, value: earlier })
        changes.push({ sign: 1, exposure, value })
        touched.add(exposure.experiment)
      }
    }
  }
  await saveValues(client, context.siteId, values, changes)
  return touched
}

function valueRow({ visitor, experiment }: ExposureRow, metric: MeasuredMetric, numbers: VisitorNumbers): ValueRow {
  return { visitor, experiment, metric: metric.id, cap: metric.cap ?? null, ...numbers }
}

function isSame(one: VisitorNumbers, other: VisitorNumbers): boolean {
  return one.value === other.value && one.denominator === other.denominator && one.past === other.past
}

function isSomething({ value, denominator, past }: VisitorNumbers): boolean {
  return value !== 0 || denominator !== 0 || past !== null
}

/**
 * Computes an experiment's exposures and values anew for some of its visitors: after a metric was added, somebody was
 * left out, or a rate of exchange has changed.
 */
export async function refoldVisitors(
  client: PoolClient,
  siteId: number,
  experiment: number,
  visitors: readonly string[],
): Promise<void> {
  const context = await readFoldContext(client, siteId)
  const seq = Number((await client.query<{ seq: string }>(plans.READ_CURSOR, [siteId])).rows[0]?.seq ?? 0)
  const known = await readExposures(client, siteId, visitors)
  const people = await client.query<KnownVisitor>(plans.VISITORS_BY_ID, [siteId, visitors])
  const byId = new Map(people.rows.map((row) => [row.id, row]))
  const exposures = visitors.flatMap((visitor) => {
    const exposure = known.get(visitor)?.get(experiment)
    const person = byId.get(visitor)
    if (!exposure) return []
    const day = context.dayOf(exposure.at)
    return [{ ...exposure, day, leftOut: person ? context.leftOut(experiment, person, exposure.at) : exposure.leftOut }]
  })
  await saveExposures(client, siteId, exposures, known)
  await measureAnew(client, context, exposures, seq)
}
