import { sql } from 'drizzle-orm'
import {
  type AnyPgColumn,
  boolean,
  date,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { SheetChange } from '../../../core/sheet/change'
import type { CollectionSettings } from '../../../shared/collection/collection'
import type { AdParameters } from '../../../core/targeting/visitorFacts'
import type { HandingOn, SiteFile } from '../../../shared/delivery/siteFile'
import { organisation, person } from './people'

export const site = pgTable('site', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  organisationId: integer()
    .notNull()
    .references(() => organisation.id),
  name: text().notNull(),
  /** Origin of the site, such as https://example.test. */
  address: text().notNull(),
  /** Other hosts with pages of the site, with their ports where they have one. */
  hosts: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** Public key in the script line; never changes. */
  key: text().notNull().unique(),
  timeZone: text().notNull().default('UTC'),
  currency: text().notNull().default('EUR'),
  /** A larger amount is refused as a mistake or a forgery. */
  largestAmount: doublePrecision().notNull().default(100_000),
  /** Nothing is stored or sent before the page reports the visitor's consent. */
  asksConsent: boolean().notNull().default(false),
  /** Whether browsers that ask not to be tracked get nothing of Vetch. */
  respectsDoNotTrack: boolean().notNull().default(false),
  /** Whether variants may bring scripts of their own to the pages. */
  allowsScripts: boolean().notNull().default(true),
  /** Query parameters that are kept with addresses, beside those of campaigns and of rules. */
  parameters: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** What pages say of their visitors that is kept with views. */
  attributes: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** What pages say of their events that is kept with them. */
  eventDetails: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** Query parameters in which the site's ads name their campaign, group and keyword. */
  adParameters: jsonb()
    .$type<AdParameters>()
    .notNull()
    .default(sql`'{"campaign": "", "group": "", "keyword": ""}'::jsonb`),
  /** Where pages are told what their visitors see; null for nowhere. */
  handingOn: jsonb().$type<HandingOn>(),
  /** The team's own networks, in CIDR notation: their visitors are marked. */
  ownNetworks: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** Networks and hosts that are not public, whose pages may be fetched for the team all the same. */
  privateHosts: text()
    .array()
    .notNull()
    .default(sql`'{}'::text[]`),
  /** Days for which raw events are kept; aggregates stay. */
  retentionDays: integer().notNull().default(400),
  /** What has been served for longer is brought up, to be built into the site itself. */
  servedDays: integer().notNull().default(90),
  /** Ids of what is served, in the order in which browsers apply it; what is not named comes last. */
  servedOrder: integer()
    .array()
    .notNull()
    .default(sql`'{}'::integer[]`),
  /** Moment before which views and events may have been deleted; null while all are there. */
  rawSince: timestamp({ withTimezone: true }),
  /** What is collected beside views, clicks and sent forms. */
  collection: jsonb()
    .$type<CollectionSettings>()
    .notNull()
    .default(
      sql`'{"behavior": {"share": 0, "pages": [{"match": "begins", "value": "/"}]}, "recording": {"share": 0, "pages": [{"match": "begins", "value": "/"}], "masksText": false, "days": 30, "megabytes": 2000}}'::jsonb`,
    ),
  /** Path of the site that hands on to Vetch, or none. */
  ownPath: text(),
  /** How long a page is held back at most, in ms. */
  longestWait: integer().notNull().default(1500),
  /** Of an environment, such as staging: the site whose experiments it shows. Its visitors are kept apart. */
  environmentOf: integer().references((): AnyPgColumn => site.id),
  firstReportAt: timestamp({ withTimezone: true }),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

/** By which a site's own server proves who somebody is. Apart from the site, so that nothing that reads a site reads it. */
export const personKey = pgTable('person_key', {
  siteId: integer()
    .primaryKey()
    .references(() => site.id),
  key: text().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

/** What one unit of another currency is worth in the site's, from a day on. */
export const currencyRate = pgTable(
  'currency_rate',
  {
    siteId: integer()
      .notNull()
      .references(() => site.id),
    currency: text().notNull(),
    from: date().notNull(),
    rate: doublePrecision().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.currency, table.from] })],
)

/** What visitors' browsers decide from; compiled anew with every change of what runs. */
export const siteFile = pgTable('site_file', {
  siteId: integer()
    .primaryKey()
    .references(() => site.id),
  version: integer().notNull(),
  content: jsonb().$type<SiteFile>().notNull(),
  compiledAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

/** Who changed what. */
export const changeLog = pgTable(
  'change_log',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    personId: integer().references(() => person.id),
    subject: text().notNull(),
    subjectId: integer().notNull(),
    action: text().notNull(),
    before: jsonb().$type<Record<string, unknown>>(),
    after: jsonb().$type<Record<string, unknown>>(),
    /** Of a change of a sheet: its id as drawn by whoever made it, what it does, and what takes it back. */
    changeId: uuid(),
    change: jsonb().$type<SheetChange>(),
    inverse: jsonb().$type<SheetChange>(),
    /** What it does, in the words of that moment. */
    words: text(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [
    index('change_log_subject').on(table.siteId, table.subject, table.subjectId, table.id),
    uniqueIndex('change_log_once').on(table.subject, table.subjectId, table.changeId),
  ],
)

export const tokenScope = pgEnum('token_scope', ['read', 'edit', 'manage'])

/** Lets a program act on one site. The token itself is shown once; here is only its hash. */
export const token = pgTable('token', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  siteId: integer()
    .notNull()
    .references(() => site.id),
  name: text().notNull(),
  scope: tokenScope().notNull(),
  hash: text().notNull().unique(),
  /** First characters, to tell tokens apart. */
  beginning: text().notNull(),
  createdBy: integer().references(() => person.id),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  usedAt: timestamp({ withTimezone: true }),
  revokedAt: timestamp({ withTimezone: true }),
})
