import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'
import type { FunnelInput } from '../../../shared/evidence/funnel'
import type { FindingSource, FindingState, FrozenView, Pin, Severity } from '../../../shared/findings/finding'
import type { ElementPlace } from '../../../shared/pictures/pagePicture'
import type { SurveyContent, SurveyState } from '../../../shared/surveys/survey'
import { bytes } from './bytes'
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

/** What the team calls a written answer, so that answers that say the same are counted together. */
export const answerTag = pgTable(
  'answer_tag',
  {
    siteId: integer().notNull(),
    surveyId: integer()
      .notNull()
      .references(() => survey.id),
    /** Id of the question. */
    question: text().notNull(),
    visitorId: text().notNull(),
    sessionId: text().notNull(),
    tag: text().notNull(),
    /** When the answer was written: it is forgotten with it. */
    answeredAt: timestamp({ withTimezone: true }).notNull(),
    createdBy: integer().references(() => person.id),
  },
  (table) => [
    primaryKey({
      columns: [table.siteId, table.surveyId, table.question, table.visitorId, table.sessionId, table.tag],
    }),
    index('answer_tag_visitor').on(table.siteId, table.visitorId),
  ],
)

/** Something that was seen, with its proof. */
export const finding = pgTable(
  'finding',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    title: text().notNull(),
    words: text().notNull().default(''),
    severity: text().$type<Severity>().notNull(),
    state: text().$type<FindingState>().notNull().default('open'),
    source: text().$type<FindingSource>().notNull(),
    tags: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    /** Path of the page that it is about. */
    page: text(),
    frozen: jsonb().$type<FrozenView>(),
    pin: jsonb().$type<Pin>(),
    /** The finding that says the same. */
    mergedInto: integer(),
    /** Counts its changes, so that nobody writes over what they have not seen. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [
    index('finding_site').on(table.siteId, table.id),
    index('finding_merged').on(table.siteId, table.mergedInto),
  ],
)

/** A page as it was, with where its elements stood: heatmaps are drawn over it when the page has changed. */
export const pagePicture = pgTable(
  'page_picture',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    path: text().notNull(),
    width: integer().notNull(),
    height: integer().notNull(),
    content: bytes().notNull(),
    places: jsonb().$type<ElementPlace[]>().notNull(),
    createdBy: integer().references(() => person.id),
    takenAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('page_picture_page').on(table.siteId, table.path, table.width)],
)
