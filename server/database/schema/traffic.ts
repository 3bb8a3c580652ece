import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Behavior } from '../../../core/evidence/behavior'
import type { EventDetails } from '../../../core/measurement/eventDetails'

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
const at = () => timestamp({ withTimezone: true })

/** With what and from where: read at intake from the request and from what the browser says of itself. */
const circumstances = () => ({
  device: text().notNull(),
  system: text().notNull(),
  browser: text().notNull(),
  browserVersion: text(),
  language: text(),
  timeZone: text(),
  country: text(),
  region: text(),
  city: text(),
  referrerHost: text(),
  campaignSource: text(),
  campaignMedium: text(),
  campaign: text(),
  campaignTerm: text(),
  campaignContent: text(),
})

/** What holds for views and events alike. Partitioned by id, which carries the time; the key makes each count once. */
const arrival = () => ({
  siteId: integer().notNull(),
  visitorId: text().notNull(),
  id: uuid().notNull(),
  /** Order of arrival, over views and events together. */
  seq: bigint({ mode: 'number' }).notNull(),
  sessionId: text().notNull(),
  /** By the server's clock: the id's time and the offset of the page view. */
  occurredAt: at().notNull(),
  receivedAt: at().notNull(),
  /** Kept address: origin, path and the kept parameters. */
  address: text().notNull(),
  /** Of everything else: the same id with other content is refused. */
  digest: bytes().notNull(),
})

export const pageView = pgTable(
  'page_view',
  {
    ...arrival(),
    /** What is added to the browser's clock, in ms; the same for everything in the view. */
    clockOffset: bigint({ mode: 'number' }).notNull(),
    title: text(),
    /** Which of the visitor's visits it belongs to, as far as their browser remembers; 1 is the first. */
    visit: integer(),
    ...circumstances(),
    screenWidth: integer(),
    screenHeight: integer(),
    windowWidth: integer(),
    windowHeight: integer(),
    /** What the page said of the visitor, of what the site keeps. */
    attributes: jsonb().$type<Readonly<Record<string, string | number | boolean>>>(),
    /** What stands for the person, where the page has named one. */
    personId: text(),
    /** Hash of the network with a salt of the day: tells visitors of one network apart for a day, and nothing else. */
    network: text(),
    /** From one of the team's own networks. */
    isTeam: boolean().notNull(),
    /** A program that says so. */
    isRobot: boolean().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.id] }),
    index('page_view_arrival').on(table.siteId, table.seq),
    index('page_view_time').on(table.siteId, table.occurredAt),
    index('page_view_person')
      .on(table.siteId, table.personId)
      .where(sql`person_id IS NOT NULL`),
  ],
)

export const event = pgTable(
  'event',
  {
    ...arrival(),
    viewId: uuid().notNull(),
    type: text().notNull(),
    experimentId: integer(),
    variant: smallint(),
    /** Of an exposure to an experiment whose split moves: by the weights of which period it was drawn. */
    period: smallint(),
    /** Of an exposure, how long after the opening of the page its changes were there, in ms. */
    shownAfter: integer(),
    /** Path of the clicked element or the submitted form, from the body inward. */
    element: text(),
    label: text(),
    pageX: integer(),
    pageY: integer(),
    /** Per mille of the element's size. */
    elementX: integer(),
    elementY: integer(),
    name: text(),
    amount: numeric(),
    currency: text(),
    reference: text(),
    /** The same for everything that tells of the same order. */
    once: text(),
    properties: jsonb().$type<Behavior>(),
    /** What the page said of a custom event, of what the site keeps. */
    details: jsonb().$type<EventDetails>(),
    personId: text(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.id] }),
    index('event_arrival').on(table.siteId, table.seq),
    index('event_time').on(table.siteId, table.type, table.occurredAt),
    index('event_person')
      .on(table.siteId, table.personId)
      .where(sql`person_id IS NOT NULL`),
    index('event_order')
      .on(table.siteId, table.visitorId, table.once)
      .where(sql`once IS NOT NULL`),
  ],
)

/** Everybody who was ever seen. */
export const visitor = pgTable(
  'visitor',
  {
    siteId: integer().notNull(),
    id: text().notNull(),
    firstSeenAt: at().notNull(),
    lastSeenAt: at().notNull(),
    views: integer().notNull(),
    events: integer().notNull(),
    isRobot: boolean().notNull(),
    isTeam: boolean().notNull(),
    /** Why they are in nobody's numbers: robot, pace or absurd. */
    leftOut: text(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.id] }),
    index('visitor_left_out')
      .on(table.siteId, table.id)
      .where(sql`left_out IS NOT NULL OR views > 10000`),
  ],
)

/** A visit: what a visitor did without a pause of half an hour. */
export const session = pgTable(
  'session',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    id: text().notNull(),
    startedAt: at().notNull(),
    endedAt: at().notNull(),
    views: integer().notNull(),
    entryAddress: text().notNull(),
    exitAddress: text().notNull(),
    ...circumstances(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.id] }),
    index('session_time').on(table.siteId, table.startedAt),
  ],
)

/** What of a visit is known to be of a person, on each of their devices. */
export const personSession = pgTable(
  'person_session',
  {
    siteId: integer().notNull(),
    personId: text().notNull(),
    visitorId: text().notNull(),
    sessionId: text().notNull(),
    startedAt: at().notNull(),
    endedAt: at().notNull(),
    views: integer().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.personId, table.visitorId, table.sessionId] }),
    index('person_session_visitor').on(table.siteId, table.visitorId),
  ],
)

/** (Unlogged: see its migration.) How many visitors that nobody knows a network may still bring to a site: shared by all processes. */
export const networkBudget = pgTable('network_budget', {
  /** Site, and hash of the day of the network. */
  key: text().primaryKey(),
  left: doublePrecision().notNull(),
  at: timestamp({ withTimezone: true }).notNull(),
  firstAt: timestamp({ withTimezone: true }).notNull(),
})
