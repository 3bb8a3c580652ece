import { sql } from 'drizzle-orm'
import {
  doublePrecision,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type { Range } from '../../../core/assignment/bucketSpace'
import type { EditContent, EditMarks } from '../../../core/edits/content'
import type { ExpectationModel } from '../../../core/measurement/expectedValue'
import type { Group } from '../../../core/targeting/condition'
import type { Decision, Purpose, SheetPageRule, SheetPlan } from '../../../core/sheet/content'
import type { SheetTerms } from '../../../core/sheet/terms'
import type { CrowdPlace } from '../../../core/traffic/crowd'
import type { SegmentPlace } from '../../../core/traffic/segment'
import type { SplitSettlement } from '../../../core/traffic/splitSettlement'
import { metricVersion } from './metrics'
import { person } from './people'
import { site } from './sites'

export const experimentState = pgEnum('experiment_state', ['draft', 'running', 'paused', 'ended'])
export const metricRole = pgEnum('metric_role', ['primary', 'secondary', 'guardrail'])
export const direction = pgEnum('direction', ['up', 'down'])

const ofSite = () =>
  integer()
    .notNull()
    .references(() => site.id)
const ofExperiment = () =>
  integer()
    .notNull()
    .references(() => experiment.id)

export const experiment = pgTable(
  'experiment',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    purpose: text().$type<Purpose>().notNull().default('test'),
    hypothesis: text().notNull().default(''),
    /** The hypothesis that it was made from. */
    hypothesisId: integer(),
    /** Of a personalization, the experiment that it serves something of. */
    servedFrom: integer(),
    state: experimentState().notNull().default('draft'),
    /** Drawn once; keeps who sees what in this experiment independent of every other. */
    salt: text().notNull(),
    pageRules: jsonb().$type<SheetPageRule[]>().notNull(),
    /** Conditions on visitors; null for everybody. */
    audience: jsonb().$type<Group>(),
    /** Of 10,000 buckets. */
    share: smallint().notNull().default(10_000),
    terms: jsonb()
      .$type<SheetTerms>()
      .notNull()
      .default(
        sql`'{"unit": "visitor", "group": null, "rank": 1, "activation": null, "leaves": false, "ramp": []}'::jsonb`,
      ),
    /** Which versions of saved audiences it was started with, by their ids; null before. */
    audienceVersions: jsonb().$type<Record<string, number>>(),
    /** What it has of the buckets of its group, from its start to its end. */
    buckets: jsonb().$type<Range[]>(),
    /** Where its ramp stands; empty without one, and once the last share is reached. */
    rampStep: smallint(),
    rampSince: timestamp({ withTimezone: true }),
    rampFinal: smallint(),
    rampProblem: text(),
    plan: jsonb().$type<SheetPlan>().notNull(),
    /** What the primary metric is adjusted by, as it was fitted at the start; null where nothing is adjusted. */
    expectation: jsonb().$type<ExpectationModel>(),
    /** Ids of combinations of a multivariate test that visitors do not get. */
    combinationsOff: text()
      .array()
      .notNull()
      .default(sql`'{}'::text[]`),
    /** Counts up with every saved change. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    startedAt: timestamp({ withTimezone: true }),
    endedAt: timestamp({ withTimezone: true }),
    /** When it shall start and end by itself; empty once that has come. */
    startsAt: timestamp({ withTimezone: true }),
    endsAt: timestamp({ withTimezone: true }),
    /** Why it did not start when it was to. */
    scheduleProblem: text(),
    /** What was decided at the end. */
    decision: jsonb().$type<Decision>(),
    /** Why its split was not as set, once somebody has said so. */
    splitSettlement: jsonb().$type<SplitSettlement>(),
    deletedAt: timestamp({ withTimezone: true }),
  },
  (table) => [
    index('experiment_site').on(table.siteId, table.state),
    index('experiment_hypothesis').on(table.siteId, table.hypothesisId),
  ],
)

/** What varies. An A/B test has one factor with an empty key, and a level for each variant. */
export const factor = pgTable(
  'factor',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    /** Drawn where the factor is made. */
    key: text().notNull().default(''),
    position: smallint().notNull(),
    name: text().notNull(),
  },
  (table) => [uniqueIndex('factor_key').on(table.experimentId, table.key)],
)

export const level = pgTable(
  'level',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    factorId: integer()
      .notNull()
      .references(() => factor.id, { onDelete: 'cascade' }),
    /** Drawn where the level is made; of an A/B test the id of the variant. */
    key: text().notNull(),
    position: smallint().notNull(),
    name: text().notNull(),
  },
  (table) => [uniqueIndex('level_key').on(table.factorId, table.key)],
)

/** A combination of levels, one of each factor. Position 0 is the control. */
export const variant = pgTable(
  'variant',
  {
    /** Drawn where the variant is made. */
    id: text().notNull(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    position: smallint().notNull(),
    name: text().notNull(),
    weight: integer().notNull(),
    /** Of a wording of a personalization, whom it is for. */
    audience: jsonb().$type<Group>(),
    levels: integer()
      .array()
      .notNull()
      .default(sql`'{}'::int[]`),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.id] })],
)

export const edit = pgTable(
  'edit',
  {
    siteId: ofSite(),
    /** Drawn where the edit is made. */
    id: text().notNull(),
    levelId: integer()
      .notNull()
      .references(() => level.id, { onDelete: 'cascade' }),
    position: smallint().notNull(),
    content: jsonb().$type<EditContent & EditMarks>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.levelId, table.id] })],
)

export const experimentMetric = pgTable(
  'experiment_metric',
  {
    siteId: ofSite(),
    experimentId: ofExperiment(),
    metricVersionId: integer()
      .notNull()
      .references(() => metricVersion.id),
    role: metricRole().notNull(),
    direction: direction().notNull().default('up'),
    /** Relative change to the worse that a guardrail may not exceed. */
    harmLimit: doublePrecision(),
    /** Order on the sheet. */
    position: smallint().notNull().default(0),
  },
  (table) => [
    primaryKey({ columns: [table.experimentId, table.metricVersionId] }),
    index('experiment_metric_version').on(table.metricVersionId),
  ],
)

/** A link that shows a variant to whoever has it, until it runs out or is taken back. */
export const preview = pgTable(
  'preview',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    /** The variant that is shown first. */
    variantId: text().notNull(),
    /** Path of the page that it opens. */
    path: text().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    revokedAt: timestamp({ withTimezone: true }),
  },
  (table) => [index('preview_experiment').on(table.siteId, table.experimentId)],
)

/** What the pages of a running experiment say of its edits, now and then looked at. */
export const driftCheck = pgTable('drift_check', {
  experimentId: ofExperiment().primaryKey(),
  siteId: ofSite(),
  /** The pages that are looked at: the same ones each time. */
  pages: text().array().notNull(),
  /** Those on which the script line was found: it may be lost there. */
  withLine: text().array().notNull().default([]),
  /** What was wrong at the first look, by keys: it was known. */
  atStart: text().array().notNull(),
  /** What they say beyond that. */
  drift: text().array().notNull(),
  /** When they began to say so. */
  since: timestamp({ withTimezone: true }),
  checkedAt: timestamp({ withTimezone: true }).notNull(),
  /** Why the experiment has paused itself; empty once it goes on. */
  pausedFor: text(),
})

/** A device of the team that shows a variant as long as somebody wants it to. */
export const pinnedDevice = pgTable(
  'pinned_device',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    /** What it shows; null for the page as it is. */
    experimentId: integer().references(() => experiment.id),
    variantId: text(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    /** When it last opened a page of the site. */
    seenAt: timestamp({ withTimezone: true }),
    revokedAt: timestamp({ withTimezone: true }),
  },
  (table) => [index('pinned_device_site').on(table.siteId)],
)

/** What people say of an experiment. */
export const experimentComment = pgTable(
  'experiment_comment',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    personId: integer().references(() => person.id),
    words: text().notNull(),
    /** Members who are named in it. */
    mentions: integer()
      .array()
      .notNull()
      .default(sql`'{}'::int[]`),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('experiment_comment_of').on(table.siteId, table.experimentId)],
)

/** Who was asked whether an experiment may start, and what they said. */
export const approval = pgTable(
  'approval',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    askedBy: integer().references(() => person.id),
    askedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** null: not yet. */
    answer: text().$type<'approved' | 'changes'>(),
    words: text().notNull().default(''),
    /** Of what was on the sheet when it was answered. */
    digest: text(),
    answeredAt: timestamp({ withTimezone: true }),
  },
  (table) => [uniqueIndex('approval_person').on(table.experimentId, table.personId)],
)

export const exclusionKind = pgEnum('exclusion_kind', ['visitor', 'team', 'span', 'crowd', 'segment'])

/** Who is left out of an experiment's numbers by a decision of its owner, and why. */
export const exclusion = pgTable(
  'exclusion',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    experimentId: ofExperiment(),
    kind: exclusionKind().notNull(),
    visitorId: text(),
    /** Visitors with something in common, and who they were when they were left out. */
    crowd: jsonb().$type<CrowdPlace>(),
    visitorIds: text().array(),
    /** Whoever was so at the first exposure. */
    segment: jsonb().$type<SegmentPlace>(),
    /** First exposures from … until … are left out. */
    from: timestamp({ withTimezone: true }),
    until: timestamp({ withTimezone: true }),
    reason: text().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [
    index('exclusion_experiment').on(table.experimentId),
    uniqueIndex('exclusion_team')
      .on(table.experimentId, table.kind)
      .where(sql`kind = 'team'`),
  ],
)

/** Weights that new visitors of an experiment are drawn by, from a moment on: more than one row where its split moves. */
export const allocationPeriod = pgTable(
  'allocation_period',
  {
    siteId: ofSite(),
    experimentId: ofExperiment(),
    /** From 0 on. Browsers tell it with each exposure. */
    period: smallint().notNull(),
    since: timestamp({ withTimezone: true }).notNull(),
    /** Relative, of each variant, the control first. */
    weights: integer().array().notNull(),
    /** Of each, the chance to be the best by what was known then; null for the first period. */
    chances: doublePrecision().array(),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.period] })],
)
