import type { Pool, PoolClient } from 'pg'
import { inTransaction } from '../database/inTransaction'
import { DIGESTS, INSERT_EVENTS, INSERT_VIEWS, SHARE_INTAKE_LOCK } from './queries'
import { columnArrays, EVENT_COLUMNS, VIEW_COLUMNS, type EventRow, type ViewRow } from './rows'

/** What one batch brings. */
export interface Arrival {
  views: ViewRow[]
  events: EventRow[]
}

interface Identity {
  siteId: number
  visitorId: string
  id: string
  digest: string
}

/** Names a view or event, with its content: the same id may come with another one. */
export function contentKey(row: Identity): string {
  return `${identityOf(row)} ${row.digest}`
}

function identityOf({ siteId, visitorId, id }: Omit<Identity, 'digest'>): string {
  return `${siteId} ${visitorId} ${id}`
}

/**
 * Writes views and events, leaving out those that are there already, and returns after the commit.
 *
 * @returns keys of what was not written, because something else is there under the same id
 */
export async function writeArrivals(pool: Pool, arrivals: readonly Arrival[]): Promise<Set<string>> {
  return inTransaction(pool, async (client) => {
    await client.query(SHARE_INTAKE_LOCK)
    const views = sorted(arrivals.flatMap((arrival) => arrival.views))
    const refused = await conflicts(client, 'page_view', views, await insert(client, INSERT_VIEWS, VIEW_COLUMNS, views))
    const taken: EventRow[] = []
    for (const arrival of arrivals) {
      // Events of a view that was refused would be put into somebody else's.
      const orphaned = new Set(arrival.views.filter((view) => refused.has(contentKey(view))).map(({ id }) => id))
      for (const event of arrival.events) {
        if (orphaned.has(event.viewId)) refused.add(contentKey(event))
        else taken.push(event)
      }
    }
    const events = sorted(taken)
    const stored = await insert(client, INSERT_EVENTS, EVENT_COLUMNS, events)
    for (const key of await conflicts(client, 'event', events, stored)) refused.add(key)
    return refused
  })
}

async function insert<Row>(
  client: PoolClient,
  plan: { text: string },
  columns: Parameters<typeof columnArrays<Row>>[0],
  rows: readonly Row[],
): Promise<StoredId[]> {
  if (rows.length === 0) return []
  return (await client.query<StoredId>({ ...plan, values: columnArrays(columns, rows) })).rows
}

interface StoredId {
  site: number
  visitor: string
  id: string
}

/** Two writers that touch the same rows in the same order wait for each other instead of blocking each other. */
function sorted<Row extends Identity>(rows: Row[]): Row[] {
  return rows.sort((a, b) => a.siteId - b.siteId || ordered(a.visitorId, b.visitorId) || ordered(a.id, b.id))
}

function ordered(one: string, other: string): number {
  return one < other ? -1 : Number(one > other)
}

async function conflicts(
  client: PoolClient,
  table: 'page_view' | 'event',
  rows: readonly Identity[],
  stored: readonly StoredId[],
): Promise<Set<string>> {
  if (stored.length === rows.length) return new Set()
  const written = new Set(stored.map(identityOfStored))
  const times = new Map<string, number>()
  for (const row of rows) times.set(identityOf(row), (times.get(identityOf(row)) ?? 0) + 1)
  const asked = rows.filter((row) => !written.has(identityOf(row)) || times.get(identityOf(row))! > 1)
  const found = await client.query<StoredId & { digest: string }>({
    ...DIGESTS[table],
    values: [asked.map(({ siteId }) => siteId), asked.map(({ visitorId }) => visitorId), asked.map(({ id }) => id)],
  })
  const digests = new Map(found.rows.map((row) => [identityOfStored(row), `\\x${row.digest}`]))
  return new Set(asked.filter((row) => digests.get(identityOf(row)) !== row.digest).map(contentKey))
}

function identityOfStored({ site, visitor, id }: StoredId): string {
  return identityOf({ siteId: site, visitorId: visitor, id })
}
