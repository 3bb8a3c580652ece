import { boolean, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core'
import type { SiteFile } from '../../../shared/siteFile'
import { organisation, person } from './people'

export const site = pgTable('site', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  organisationId: integer()
    .notNull()
    .references(() => organisation.id),
  name: text().notNull(),
  /** Origin of the site, such as https://example.test. */
  address: text().notNull(),
  /** Public key in the script line; never changes. */
  key: text().notNull().unique(),
  timeZone: text().notNull().default('UTC'),
  currency: text().notNull().default('EUR'),
  /** Nothing is stored or sent before the page reports the visitor's consent. */
  asksConsent: boolean().notNull().default(false),
  firstReportAt: timestamp({ withTimezone: true }),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

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
export const changeLog = pgTable('change_log', {
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
  at: timestamp({ withTimezone: true }).notNull().defaultNow(),
})
