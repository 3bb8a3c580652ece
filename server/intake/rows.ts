import type { EventDetails } from '../../core/measurement/eventDetails'
import type { Behavior } from '../../core/evidence/behavior'
import type { CollectedView } from '../../shared/intake/collect'

/** Views and events as they are written: one list of columns for each, from which the statements are made. */

/** One page view. `offset` is what its clock seems to be off by, in ms, as this batch tells it. */
export interface ViewRow {
  siteId: number
  visitorId: string
  id: string
  madeAt: number
  offset: number
  receivedAt: Date
  sessionId: string
  address: string
  title: string | null
  visit: number | null
  device: string
  system: string
  browser: string
  browserVersion: string | null
  language: string | null
  timeZone: string | null
  country: string | null
  region: string | null
  city: string | null
  referrerHost: string | null
  campaignSource: string | null
  campaignMedium: string | null
  campaign: string | null
  campaignTerm: string | null
  campaignContent: string | null
  screenWidth: number | null
  screenHeight: number | null
  windowWidth: number | null
  windowHeight: number | null
  attributes: CollectedView['attributes'] | null
  personId: string | null
  network: string | null
  isTeam: boolean
  isRobot: boolean
  digest: string
}

/** One event. Visitor, session and address are those of its view, and the clock, unless it has leaped since. */
export interface EventRow {
  siteId: number
  visitorId: string
  id: string
  madeAt: number
  /** What the clock seems to be off by, in ms, as this batch tells it. */
  offset: number
  viewId: string
  receivedAt: Date
  type: string
  experimentId: number | null
  variant: number | null
  period: number | null
  shownAfter: number | null
  element: string | null
  label: string | null
  pageX: number | null
  pageY: number | null
  elementX: number | null
  elementY: number | null
  name: string | null
  amount: number | null
  currency: string | null
  reference: string | null
  once: string | null
  properties: Behavior | null
  details: EventDetails | null
  personId: string | null
  digest: string
}

/** A field of a row, its column, and its type in SQL. */
type Column<Row> = readonly [field: keyof Row, column: string, type: string]

export const VIEW_COLUMNS: readonly Column<ViewRow>[] = [
  ['siteId', 'site_id', 'integer'],
  ['visitorId', 'visitor_id', 'text'],
  ['id', 'id', 'uuid'],
  ['madeAt', 'made_at', 'float8'],
  ['offset', 'measured', 'bigint'],
  ['receivedAt', 'received_at', 'timestamptz'],
  ['sessionId', 'session_id', 'text'],
  ['address', 'address', 'text'],
  ['title', 'title', 'text'],
  ['visit', 'visit', 'integer'],
  ['device', 'device', 'text'],
  ['system', 'system', 'text'],
  ['browser', 'browser', 'text'],
  ['browserVersion', 'browser_version', 'text'],
  ['language', 'language', 'text'],
  ['timeZone', 'time_zone', 'text'],
  ['country', 'country', 'text'],
  ['region', 'region', 'text'],
  ['city', 'city', 'text'],
  ['referrerHost', 'referrer_host', 'text'],
  ['campaignSource', 'campaign_source', 'text'],
  ['campaignMedium', 'campaign_medium', 'text'],
  ['campaign', 'campaign', 'text'],
  ['campaignTerm', 'campaign_term', 'text'],
  ['campaignContent', 'campaign_content', 'text'],
  ['screenWidth', 'screen_width', 'integer'],
  ['screenHeight', 'screen_height', 'integer'],
  ['windowWidth', 'window_width', 'integer'],
  ['windowHeight', 'window_height', 'integer'],
  ['attributes', 'attributes', 'jsonb'],
  ['personId', 'person_id', 'text'],
  ['network', 'network', 'text'],
  ['isTeam', 'is_team', 'boolean'],
  ['isRobot', 'is_robot', 'boolean'],
  ['digest', 'digest', 'bytea'],
]

export const EVENT_COLUMNS: readonly Column<EventRow>[] = [
  ['siteId', 'site_id', 'integer'],
  ['visitorId', 'visitor_id', 'text'],
  ['id', 'id', 'uuid'],
  ['madeAt', 'made_at', 'float8'],
  ['offset', 'measured', 'bigint'],
  ['viewId', 'view_id', 'uuid'],
  ['receivedAt', 'received_at', 'timestamptz'],
  ['type', 'type', 'text'],
  ['experimentId', 'experiment_id', 'integer'],
  ['variant', 'variant', 'smallint'],
  ['period', 'period', 'smallint'],
  ['shownAfter', 'shown_after', 'integer'],
  ['element', 'element', 'text'],
  ['label', 'label', 'text'],
  ['pageX', 'page_x', 'integer'],
  ['pageY', 'page_y', 'integer'],
  ['elementX', 'element_x', 'integer'],
  ['elementY', 'element_y', 'integer'],
  ['name', 'name', 'text'],
  ['amount', 'amount', 'numeric'],
  ['currency', 'currency', 'text'],
  ['reference', 'reference', 'text'],
  ['once', 'once', 'text'],
  ['properties', 'properties', 'jsonb'],
  ['details', 'details', 'jsonb'],
  ['personId', 'person_id', 'text'],
  ['digest', 'digest', 'bytea'],
]

/** A value as PostgreSQL reads it. */
export function asText(value: unknown): string | null {
  if (value === null || value === undefined) return null
  if (value instanceof Date) return value.toISOString()
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}

/** The rows column by column, as arrays of texts: they travel as they are and are cast in the database. */
export function columnArrays<Row>(columns: readonly Column<Row>[], rows: readonly Row[]): (string | null)[][] {
  return columns.map(([field]) => rows.map((row) => asText(row[field])))
}
