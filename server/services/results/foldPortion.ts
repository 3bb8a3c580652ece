import type { PoolClient } from 'pg'
import { PERSON } from '../../../core/identity/personId'
import { firstExposure } from '../../../core/measurement/firstExposure'
import type { BehaviorType } from '../../../core/evidence/behavior'
import { leftOutReason, type VisitorTraffic } from '../../../core/traffic/leftOut'
import { OLDEST_VIEW } from '../../../shared/intake/collect'
import { addSegments } from './addSegments'
import { groupBy } from '../groupBy'
import { readFoldContext, type FoldContext } from './foldContext'
import type { KnownVisitor } from './exclusion'
import type { StoredEvent } from './storedEvent'
import { addToValues, measureAnew, MEASURED_EVENTS, type Histories } from './measureVisitors'
import * as queries from './queries'
import {
  keyOf,
  knownOf,
  moveExposures,
  readExposures,
  replaceExposures,
  type Exposures,
  type ExposureRow,
} from './saveNumbers'
import { SiteFault } from './siteFault'
import { tellOrdersApart } from './tellOrdersApart'

const MEASURED: readonly StoredEvent['type'][] = ['page', ...MEASURED_EVENTS]

/** A new event of any type; of an exposure with what was seen. */
interface ArrivedEvent extends Omit<StoredEvent, 'type'> {
  type: StoredEvent['type'] | 'exposure' | BehaviorType
  experiment: number | null
  variant: number | null
  period: number | null
  shownAfter: number | null
}
/** Which rows are folded, by their numbers. */
export interface Portion {
  /** The last one before. */
  from: number
  to: number
  /** Up to here everything else has been folded. */
  folded: number
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
 * what the visitor did before, nor on how many experiments have ended. Only where the exposure itself is new, or turns
 * out to be another, are the visitor's values computed from all of their events.
 */
export async function foldPortion(client: PoolClient, siteId: number, portion: Portion): Promise<Folded> {
  const { from, to } = portion
  const context = await readFoldContext(client, siteId).catch((error: unknown) => {
    throw new SiteFault(`What site ${siteId} is folded by cannot be read.`, { cause: error })
  })
  const open = await openExperiments(client, context, from, to)
  const hasPersons = context.ofPersons.size > 0
  const visitors = await countVisitors(client, siteId, from, to, hasPersons)
  await client.query(queries.SAVE_SESSIONS, [siteId, from, to])
  await client.query(queries.SAVE_PERSON_SESSIONS, [siteId, from, to])
  await client.query(queries.COUNT_FOREIGN_AMOUNTS, [siteId, from, to])

  const arrived = (await client.query<ArrivedEvent>(queries.newEvents(hasPersons), [siteId, from, to, open])).rows
  const concerned = [...new Set([...arrived.map(({ visitor }) => visitor), ...visitors.newlyLeftOut])]
  const known = await readExposures(client, siteId, concerned, open)
  const changed = await changedExposures(client, context, new Set(open), arrived, known, visitors.byId)
  const measured = arrived.filter(isMeasured).map(context.inMoney)
  const told = await tellOrdersApart(client, context, portion, measured)

  const anew = new Map([...changed].filter(([, each]) => knownOf(known, each)?.id !== each.id))
  for (const each of withEarlierOrders(context, known, changed, told.earlier)) anew.set(keyOf(each), each)
  for (const each of withLatePast(context, known, changed, measured)) anew.set(keyOf(each), each)
  const moved = [...changed].flatMap(([key, each]) => (anew.has(key) ? [] : [each]))
  await moveExposures(client, siteId, moved, known)
  await replaceExposures(client, siteId, [...anew.values()], known)
  const whole = wholeHistories(arrived, measured, visitors.byId)
  await measureAnew(client, context, [...anew.values()], Math.max(to, portion.folded), whole)
  const standing = standingExposures(known, moved, anew)
  const touched = await addToValues(client, context, told.events, standing, told.earlier)
  return {
    experiments: new Set([...[...anew.values(), ...moved].map(({ experiment }) => experiment), ...touched]),
    asOf: arrived.reduce((latest, { at }) => Math.max(latest, at), 0),
  }
}

/**
 * Experiments to which something of a portion may belong. Of what has ended so long before that nothing of its time is
 * taken any more, the numbers stay as they are.
 */
async function openExperiments(
  client: PoolClient,
  { siteId, ends }: FoldContext,
  from: number,
  to: number,
): Promise<number[]> {
  const { rows } = await client.query<{ at: number | null }>(queries.EARLIEST_RECEIPT, [siteId, from, to])
  const oldest = (rows[0]?.at ?? 0) - OLDEST_VIEW
  return [...ends].filter(([, until]) => until === null || until >= oldest).map(([experiment]) => experiment)
}

/**
 * Exposures of visitors with an order that was told earlier than was known: what it counts as may have changed in ways
 * that only all events tell. Where these are not all there, the order is exchanged in the numbers instead.
 */
function withEarlierOrders(
  { hasPast }: FoldContext,
  known: Exposures,
  changed: ReadonlyMap<string, ExposureRow>,
  earlier: ReadonlyMap<string, unknown>,
): ExposureRow[] {
  return [...earlier.keys()].flatMap((visitor) =>
    [...(known.get(visitor)?.values() ?? [])].map((each) => changed.get(keyOf(each)) ?? each).filter(hasPast),
  )
}

/** Exposures that are adjusted by what was before them, of visitors of whom more of that has come. */
function withLatePast(
  context: FoldContext,
  known: Exposures,
  changed: ReadonlyMap<string, ExposureRow>,
  arrived: readonly StoredEvent[],
): ExposureRow[] {
  const earliest = new Map<string, number>()
  for (const { visitor, at } of arrived) earliest.set(visitor, Math.min(at, earliest.get(visitor) ?? Infinity))
  return [...earliest].flatMap(([visitor, at]) =>
    [...(known.get(visitor)?.values() ?? [])]
      .map((each) => changed.get(keyOf(each)) ?? each)
      .filter((each) => at < each.at && context.isAdjusted(each.experiment) && context.hasPast(each)),
  )
}

/** Exposures to whose numbers new events are added: all that are not measured anew, as they are by now. */
function standingExposures(
  known: Exposures,
  moved: readonly ExposureRow[],
  anew: ReadonlyMap<string, ExposureRow>,
): Exposures {
  const byNow = new Map(moved.map((each) => [keyOf(each), each]))
  const standing = [...known].map(([visitor, own]): [string, Map<number, ExposureRow>] => [
    visitor,
    new Map(
      [...own.values()]
        .filter((each) => !anew.has(keyOf(each)))
        .map((each) => [each.experiment, byNow.get(keyOf(each)) ?? each]),
    ),
  ])
  return new Map(standing)
}

async function countVisitors(client: PoolClient, siteId: number, from: number, to: number, hasPersons: boolean) {
  const { rows } = await client.query<KnownVisitor & VisitorTraffic>(queries.countVisitors(hasPersons), [
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
  if (newlyLeftOut.length > 0) await client.query(queries.LEAVE_OUT_VISITORS, [siteId, JSON.stringify(newlyLeftOut)])
  return {
    byId: new Map(rows.map((row) => [row.id, row])),
    newlyLeftOut: newlyLeftOut.map(({ id }) => id),
  }
}

/** Exposures that are new or turn out to be other than they were, as they are to be stored. */
async function changedExposures(
  client: PoolClient,
  context: FoldContext,
  open: ReadonlySet<number>,
  arrived: readonly ArrivedEvent[],
  known: Exposures,
  visitors: ReadonlyMap<string, KnownVisitor>,
): Promise<Map<string, ExposureRow>> {
  const changed = new Map<string, ExposureRow>()
  const sightings = groupBy(
    arrived.filter((event) => isSighting(event, context, open)) as (ArrivedEvent & {
      experiment: number
      variant: number
    })[],
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
    each.leftOut = visitor ? context.leftOut(each.experiment, visitor, each) : (before?.leftOut ?? null)
    const isSame = before && before.id === each.id && before.crossed === each.crossed && before.leftOut === each.leftOut
    if (isSame) changed.delete(key)
  }
  return changed
}

function isMeasured(event: ArrivedEvent): event is ArrivedEvent & StoredEvent {
  return (MEASURED as readonly string[]).includes(event.type)
}

function isSighting(
  { type, experiment, variant, period, at, visitor }: ArrivedEvent,
  { ends, ofPersons, wasDrawn }: FoldContext,
  open: ReadonlySet<number>,
): boolean {
  if (type !== 'exposure' || experiment === null || variant === null || !open.has(experiment)) return false
  if (!wasDrawn({ experiment, period })) return false
  if (visitor.startsWith(PERSON) !== ofPersons.has(experiment)) return false
  const end = ends.get(experiment) ?? null
  return end === null || at <= end
}

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
