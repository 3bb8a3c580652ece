import { index, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core'
import type { FunnelInput } from '../../../shared/evidence/funnel'
import type { SurveyContent, SurveyState } from '../../../shared/survey'
import { person } from './people'
import { site } from './sites'

/** That somebody was erased, and by whom; not who it was. */
export const erasure = pgTable(
  'erasure',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    personId: integer().references(() => person.id),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('erasure_site').on(table.siteId)],
)

/** A way through the site that somebody wants to look at again. */
export const funnel = pgTable(
  'funnel',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    name: text().notNull(),
    plan: jsonb().$type<FunnelInput>().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('funnel_site').on(table.siteId, table.id)],
)

/** A few questions to visitors. What they answer are events. */
export const survey = pgTable(
  'survey',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    name: text().notNull(),
    state: text().$type<SurveyState>().notNull().default('draft'),
    content: jsonb().$type<SurveyContent>().notNull(),
    /** Counts its changes, so that nobody writes over what they have not seen. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    startedAt: timestamp({ withTimezone: true }),
    endedAt: timestamp({ withTimezone: true }),
  },
  (table) => [index('survey_site').on(table.siteId, table.id)],
)
