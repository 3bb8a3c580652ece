import { sql, type SQL } from 'drizzle-orm'

/** More views than a person opens in the time that raw events are kept. The index `visitor_left_out` says the same. */
const MOST_VIEWS = 10_000

/** Visitors of a site who are in nobody's numbers, or have more views than a person would. */
export function leftOutVisitors(siteId: number): SQL {
  return sql`SELECT v.id FROM visitor v
    WHERE v.site_id = ${siteId} AND (v.left_out IS NOT NULL OR v.views > ${sql.raw(String(MOST_VIEWS))})`
}
