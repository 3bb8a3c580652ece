import type { Pool } from 'pg'
import type { Arrived } from '../../../shared/evidence/live'

/** Rows that are looked at again: a lower number may become visible after a higher one. */
const LOOKED_BACK = 1000
const MOST_AT_ONCE = 100

/** All SQL of the live tail. `$4` and `$5` are network and browser of whoever looks, or null for everybody. */
const ARRIVED = `
  SELECT * FROM (
    SELECT 'view' AS what, v.id, v.seq, v.received_at AS at, 'page' AS kind, v.address, v.title AS detail, v.visitor_id AS visitor, v.browser, v.is_robot AS "isRobot", v.is_team AS "isTeam"
    FROM page_view v
    WHERE v.site_id = $1 AND v.seq > $2 AND v.received_at > $3 AND ($4::text IS NULL OR (v.network = $4 AND v.browser = $5))
    UNION ALL
    SELECT 'event', e.id, e.seq, e.received_at, e.type, e.address, coalesce(e.label, e.name, e.element), e.visitor_id, v.browser, v.is_robot, v.is_team
    FROM event e JOIN page_view v ON v.site_id = e.site_id AND v.visitor_id = e.visitor_id AND v.id = e.view_id
    WHERE e.site_id = $1 AND e.seq > $2 AND e.received_at > $3 AND ($4::text IS NULL OR (v.network = $4 AND v.browser = $5))
  ) arrived ORDER BY seq DESC LIMIT ${MOST_AT_ONCE}`
const REFUSED = `
  SELECT reason, sum(events)::float8 AS events FROM refusal
  WHERE site_id = $1 AND day >= $2::timestamptz::date - 1 GROUP BY reason`
const LAST_SEQ = 'SELECT CASE WHEN is_called THEN last_value ELSE 0 END AS seq FROM arrival_seq'

/** Of whom the tail is: a browser in a network, as their views are marked. */
export interface OwnBrowser {
  network: string
  browser: string
}

interface Row {
  what: 'view' | 'event'
  id: string
  at: Date
  kind: string
  address: string
  detail: string | null
  visitor: string
  browser: string
  isRobot: boolean
  isTeam: boolean
}

/** Tells what is refused at a site from now on, each time it is asked. Of whom is not kept with it. */
export function followRefusals(pool: Pool, siteId: number): () => Promise<Arrived[]> {
  let known: Map<string, number> | null = null
  const since = new Date()
  return async () => {
    const { rows } = await pool.query<{ reason: string; events: number }>(REFUSED, [siteId, since])
    const before = known
    known = new Map(rows.map(({ reason, events }) => [reason, events]))
    if (!before) return []
    const at = new Date().toISOString()
    return rows.flatMap(({ reason, events }): Arrived[] => {
      const count = events - (before.get(reason) ?? 0)
      const detail = count > 1 ? `${reason} (${count} times)` : reason
      const none = { kind: null, page: null, visitor: null, browser: null, leftOut: null }
      return count > 0 ? [{ what: 'refused', id: `${reason} ${events}`, at, detail, ...none }] : []
    })
  }
}

/** Tells what arrives at a site from now on, each time it is asked. */
export function followArrivals(pool: Pool, siteId: number, own: OwnBrowser | null): () => Promise<Arrived[]> {
  const since = new Date()
  let told = new Set<string>()
  let from: number | null = null
  return async () => {
    const last = Number((await pool.query<{ seq: string }>(LAST_SEQ)).rows[0]!.seq)
    from ??= last
    const values = [siteId, from - LOOKED_BACK, since, own?.network ?? null, own?.browser ?? null]
    const { rows } = await pool.query<Row>(ARRIVED, values)
    from = last
    const news = rows.filter(({ id }) => !told.has(id)).reverse()
    // Of what was told, what may come again: the newest.
    told = new Set(rows.map(({ id }) => id))
    return news.map(({ what, id, at, kind, address, detail, visitor, browser, isRobot, isTeam }) => {
      const page = URL.canParse(address) ? new URL(address).pathname : address
      return {
        what,
        id,
        at: at.toISOString(),
        kind,
        page,
        detail,
        visitor,
        browser,
        leftOut: isRobot ? 'robot' : isTeam ? 'team' : null,
      }
    })
  }
}
