import type { IdeaFigures } from '../../../shared/hypotheses/replies'
import { sql } from 'drizzle-orm'
import { doublePrecision, index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'
import type { Strength } from '../../../core/hypotheses/pastLifts'
import type { RankingTerms, Stage } from '../../../shared/hypotheses/hypothesis'
import { direction } from './experiments'
import { finding } from './evidence'
import { metric } from './metrics'
import { person } from './people'
import { site } from './sites'

const ofSite = () =>
  integer()
    .notNull()
    .references(() => site.id)
const ofHypothesis = () =>
  integer()
    .notNull()
    .references(() => hypothesis.id, { onDelete: 'cascade' })

/** What is expected of a change, and why. */
export const hypothesis = pgTable(
  'hypothesis',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    title: text().notNull(),
    change: text().notNull().default(''),
    /** As filters write it: is:/book; null for all pages. */
    pages: text(),
    /** A segment as filters write it; null for everybody. */
    audience: text(),
    metricId: text().references(() => metric.id, { onDelete: 'set null' }),
    direction: direction().notNull().default('up'),
    reason: text().notNull().default(''),
    /** Worded by a person; null: put together from the parts. */
    statement: text(),
    low: doublePrecision(),
    likely: doublePrecision(),
    high: doublePrecision(),
    effortDays: doublePrecision(),
    strength: text().$type<Strength>().notNull().default('fair'),
    tags: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    /** By the criterion's id. */
    scores: jsonb()
      .$type<Record<string, number>>()
      .notNull()
      .default(sql`'{}'::jsonb`),
    ownerId: integer().references(() => person.id),
    stage: text().$type<Stage>().notNull().default('new'),
    /** Why it was set aside, or taken up again. */
    stageReason: text(),
    /** The place that somebody has given it in the list, and why. */
    handPlace: integer(),
    handReason: text(),
    /** Counts its changes, so that nobody writes over what they have not seen. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    deletedAt: timestamp({ withTimezone: true }),
  },
  (table) => [
    index('hypothesis_site').on(table.siteId, table.id),
    index('hypothesis_words').using(
      'gin',
      sql`to_tsvector('english', ${table.title} || ' ' || ${table.change} || ' ' || ${table.reason})`,
    ),
  ],
)

/** Which findings a hypothesis comes from. */
export const hypothesisFinding = pgTable(
  'hypothesis_finding',
  {
    siteId: ofSite(),
    hypothesisId: ofHypothesis(),
    findingId: integer()
      .notNull()
      .references(() => finding.id, { onDelete: 'cascade' }),
  },
  (table) => [
    primaryKey({ columns: [table.hypothesisId, table.findingId] }),
    index('hypothesis_finding_finding').on(table.siteId, table.findingId),
  ],
)

/** What people say of a hypothesis. */
export const hypothesisComment = pgTable(
  'hypothesis_comment',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    hypothesisId: ofHypothesis(),
    personId: integer().references(() => person.id),
    words: text().notNull(),
    /** Members who are named in it. */
    mentions: integer()
      .array()
      .notNull()
      .default(sql`'{}'::int[]`),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('hypothesis_comment_of').on(table.siteId, table.hypothesisId)],
)

/** What visitors of some pages and audience did lately, by a metric: hypotheses that share it share a row. */
export const ideaTraffic = pgTable(
  'idea_traffic',
  {
    siteId: ofSite(),
    /** Empty for all pages, and for everybody. */
    pages: text().notNull(),
    audience: text().notNull(),
    metricId: text()
      .notNull()
      .references(() => metric.id, { onDelete: 'cascade' }),
    figures: jsonb().$type<IdeaFigures>().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.pages, table.audience, table.metricId] })],
)

/** By what a team ranks. */
export const rankingTerms = pgTable('ranking_terms', {
  siteId: integer()
    .primaryKey()
    .references(() => site.id),
  terms: jsonb().$type<RankingTerms>().notNull(),
})
