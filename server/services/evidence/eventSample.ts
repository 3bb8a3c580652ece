import type { SampledEvent } from '../../../shared/evidence/replies'
import { and, desc, eq, gte, lt, ne, sql } from 'drizzle-orm'
import { pageName } from '../../../core/evidence/visits'
import { dayAfter, firstMoment } from '../../../core/time/siteDay'
import type { Queries } from '../../database/connect'
import { event, pageView } from '../../database/schema'
import { findSite } from '../sites/sites'

const MOST_SAMPLED = 20

/** The latest events of a kind (and name, where one is given) as they were told, also those of visitors who are left out. */
export async function sampleEvents(
  database: Queries,
  siteId: number,
  { from, to, kind, name }: { from: string; to: string; kind: string; name?: string },
): Promise<SampledEvent[]> {
  const { timeZone, address } = await findSite(database, siteId)
  const host = new URL(address).host
  const table = kind === 'page' ? pageView : event
  const within = and(
    eq(table.siteId, siteId),
    gte(table.occurredAt, new Date(firstMoment(from, timeZone))),
    lt(table.occurredAt, new Date(firstMoment(dayAfter(to), timeZone))),
  )
  const rows =
    kind === 'page'
      ? await database
          .select({
            at: pageView.occurredAt,
            visitor: pageView.visitorId,
            address: pageView.address,
            name: pageView.title,

            element: sql<null>`NULL`,
            label: sql<null>`NULL`,
            amount: sql<null>`NULL`,
            properties: sql<null>`NULL`,
          })
          .from(pageView)
          .where(within)
          .orderBy(desc(pageView.occurredAt))
          .limit(MOST_SAMPLED)
      : await database
          .select({
            at: event.occurredAt,
            visitor: event.visitorId,
            address: event.address,
            name: event.name,

            element: event.element,
            label: event.label,
            amount: event.amount,
            properties: event.properties,
          })
          .from(event)
          .where(and(within, eq(event.type, kind), ne(event.type, 'exposure'), name ? eq(event.name, name) : undefined))
          .orderBy(desc(event.occurredAt))
          .limit(MOST_SAMPLED)
  return rows.map(({ at, address: of, ...rest }) => ({ ...rest, at: at.toISOString(), page: pageName(of, host) }))
}
