import { sql } from 'drizzle-orm'
import type { Past, PastView } from '../../../core/targeting/replay'
import type { Database } from '../../database/connect'
import { groupBy } from '../groupBy'
import { findSite } from '../sites/sites'

interface Row extends Record<string, unknown> {
  visitor: string
  id: string
  session: string
  at: number
  address: string
  visits: number | null
  referrer: string | null
  person: string | null
}

/**
 * Everything that is kept of some visitors, as conditions ask for it: their views and what they did.
 *
 * @param isTested - whether a view is one of those that are asked about
 */
export async function pastOfVisitors(
  database: Database,
  siteId: number,
  visitors: readonly string[],
  isTested: (view: { at: number; address: string }) => boolean,
): Promise<Map<string, Past>> {
  const { timeZone, address, adParameters } = await findSite(database, siteId)
  const { host } = new URL(address)
  const asked = sql.param([...visitors])
  const { rows } = await database.execute<Row>(sql`
    SELECT visitor_id AS visitor, id, session_id AS session, extract(epoch FROM occurred_at)::float8 * 1000 AS at, address,
      visit AS visits, coalesce(referrer_host, '') AS referrer, device, system, browser,
      browser_version AS "browserVersion", language, time_zone AS "timeZone", country, region, city,
      screen_width AS "screenWidth", attributes, person_id AS person
    FROM page_view WHERE site_id = ${siteId} AND visitor_id = ANY(${asked}::text[])
    ORDER BY visitor_id, occurred_at, seq`)
  const { rows: done } = await database.execute<{ visitor: string; name: string; at: number }>(sql`
    SELECT visitor_id AS visitor, name, extract(epoch FROM occurred_at)::float8 * 1000 AS at
    FROM event WHERE site_id = ${siteId} AND visitor_id = ANY(${asked}::text[]) AND type = 'custom' AND name IS NOT NULL
    ORDER BY visitor_id, occurred_at, seq`)
  const events = groupBy(done, ({ visitor }) => visitor)
  const pasts = new Map<string, Past>()
  for (const [visitor, own] of groupBy(rows, (row) => row.visitor)) {
    const views = own.map((row): PastView => {
      const { id, session, at, address: of, visitor: _, referrer, person, ...facts } = row
      return {
        id,
        session,
        at,
        address: of,
        isTested: isTested({ at, address: of }),
        ...(person === null ? {} : { person }),
        facts: known({ ...facts, referrer: referrer === host ? '' : referrer }),
      }
    })
    pasts.set(visitor, { views, events: events.get(visitor) ?? [], siteTimeZone: timeZone, adParameters })
  }
  return pasts
}

/** Without what is not known. */
function known(facts: Record<string, unknown>): PastView['facts'] {
  return Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== null))
}
