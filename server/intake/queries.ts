/**
 * All SQL of intake, in the order in which it runs within one transaction. What writes is not prepared: a plan that was
 * made while a month's tables were empty would be kept while they fill, and go over all of a site's rows.
 */
import { OLDEST_EVENT, OLDEST_VIEW } from '../../shared/intake/collect'
import { INTAKE_LOCK } from '../database/locks'
import { EVENT_COLUMNS, VIEW_COLUMNS } from './rows'

type Columns = readonly (readonly [unknown, string, string])[]

const names = (columns: Columns, leftOut: readonly string[] = []) =>
  columns.map(([, name]) => name).filter((name) => !leftOut.includes(name))
const unnest = (columns: Columns) =>
  `unnest(${columns.map(([, , type], index) => `$${index + 1}::text[]::${type}[]`).join(', ')}) AS i (${names(columns).join(', ')})`
const fromIncoming = (columns: readonly string[]) => columns.map((name) => `i.${name}`).join(', ')

export const SHARE_INTAKE_LOCK = {
  name: 'share-intake-lock',
  text: `SELECT pg_advisory_xact_lock_shared(${INTAKE_LOCK})`,
}

/** Longest that a request may have been under way, in ms, before its clock is taken to have been set. */
const SLOWEST_REQUEST = 60_000

/**
 * When something happened by the server's clock: never after it was received, but for the time that a slow request may
 * have been under way, and never longer before than anything is taken. What is deleted when it is old goes by this
 * moment, which no browser's clock moves.
 */
const happenedAt = (moment: string, oldest: number) =>
  `least(i.received_at + interval '${SLOWEST_REQUEST / 1000} s', greatest(i.received_at - interval '${oldest / 1000} s', to_timestamp((${moment}) / 1000)))`

const viewColumns = names(VIEW_COLUMNS, ['made_at', 'measured'])

/**
 * Views that are not there yet. A clock is off by what the first batch of a view tells, kept with the view; the time
 * that the batch was under way only ever makes it look larger, so a visitor's clock keeps the smallest value for as
 * long as it is not set anew.
 */
export const INSERT_VIEWS = {
  text: `
    INSERT INTO page_view (${viewColumns.join(', ')}, clock_offset, occurred_at)
    SELECT ${fromIncoming(viewColumns)}, c.clock_offset, ${happenedAt('i.made_at + c.clock_offset', OLDEST_VIEW)}
    FROM ${unnest(VIEW_COLUMNS)}
    LEFT JOIN LATERAL (
      SELECT p.clock_offset FROM page_view p
      WHERE p.site_id = i.site_id AND p.visitor_id = i.visitor_id ORDER BY p.id DESC LIMIT 1
    ) p ON true
    CROSS JOIN LATERAL (
      SELECT CASE WHEN i.measured - p.clock_offset BETWEEN 0 AND ${SLOWEST_REQUEST} THEN p.clock_offset ELSE i.measured END AS clock_offset
    ) c
    ON CONFLICT DO NOTHING
    RETURNING site_id AS site, visitor_id AS visitor, id`,
}

const eventColumns = names(EVENT_COLUMNS, ['made_at', 'measured'])

/**
 * Events that are not there yet, each with the session and address of its view, and by its clock. Where the batch tells
 * of a clock that has leaped since the view began, as after a sleep, it is that of the batch.
 */
export const INSERT_EVENTS = {
  text: `
    INSERT INTO event (${eventColumns.join(', ')}, session_id, address, occurred_at)
    SELECT ${fromIncoming(eventColumns)}, v.session_id, v.address, ${happenedAt('i.made_at + c.clock_offset', OLDEST_EVENT)}
    FROM ${unnest(EVENT_COLUMNS)}
    JOIN page_view v ON v.site_id = i.site_id AND v.visitor_id = i.visitor_id AND v.id = i.view_id
    CROSS JOIN LATERAL (
      SELECT CASE WHEN abs(i.measured - v.clock_offset) <= ${SLOWEST_REQUEST} THEN v.clock_offset ELSE i.measured END AS clock_offset
    ) c
    ON CONFLICT DO NOTHING
    RETURNING site_id AS site, visitor_id AS visitor, id`,
}

/** What is stored under ids that were there before. */
const digests = (table: 'page_view' | 'event') => ({
  name: `digests-of-${table}`,
  text: `
    SELECT t.site_id AS site, t.visitor_id AS visitor, t.id, encode(t.digest, 'hex') AS digest
    FROM unnest($1::int[], $2::text[], $3::uuid[]) AS i (site, visitor, id)
    JOIN ${table} t ON t.site_id = i.site AND t.visitor_id = i.visitor AND t.id = i.id`,
})
export const DIGESTS = { page_view: digests('page_view'), event: digests('event') }

export const COUNT_REFUSALS = `
  INSERT INTO refusal AS r (site_id, day, reason, events)
  SELECT * FROM unnest($1::int[], $2::date[], $3::text[], $4::bigint[])
  ON CONFLICT (site_id, day, reason) DO UPDATE SET events = r.events + excluded.events`
