import { sql } from 'drizzle-orm'
import {
  bigint,
  boolean,
  date,
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
import type { KeptAmount } from '../../../core/measurement/keptAmounts'
import type { CrowdKind } from '../../../core/traffic/crowd'
import type { ReachedVerdict } from '../../../core/verdict/reachedVerdict'
import type { StoredSummary } from '../../services/results/summaries'

const at = () => timestamp({ withTimezone: true })
const count = () => bigint({ mode: 'number' }).notNull().default(0)
const sum = () => numeric().notNull().default('0')

/** The first time a visitor saw an experiment: one row a visitor and experiment. */
export const exposure = pgTable(
  'exposure',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    experimentId: integer().notNull(),
    variant: smallint().notNull(),
    exposedAt: at().notNull(),
    /** The event and the page view of it. */
    eventId: uuid().notNull(),
    viewId: uuid().notNull(),
    /** Day of `exposedAt` in the site's time zone. */
    day: date().notNull(),
    /** By the weights of which period it was drawn; null where the split does not move. */
    period: smallint(),
    /** How long after the opening of the page its changes were there, in ms; null where nobody measured it. */
    shownAfter: integer(),
    /** The visitor was seen in another variant as well. */
    crossed: boolean().notNull().default(false),
    /** What the visitor was at that moment, by dimension. Never changed by what comes later. */
    segments: jsonb().$type<Record<string, string>>().notNull(),
    /** Why the visitor is not counted, or null. */
    leftOut: text(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.experimentId] }),
    index('exposure_experiment').on(table.siteId, table.experimentId, table.visitorId),
    index('exposure_left_out')
      .on(table.siteId, table.experimentId)
      .where(sql`left_out IS NOT NULL`),
  ],
)

/** What a visitor adds to the statistics of a metric. No row means zero, and no earlier visit. */
export const visitorValue = pgTable(
  'visitor_value',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    experimentId: integer().notNull(),
    metricVersionId: integer().notNull(),
    value: numeric().notNull(),
    /** Of a ratio. */
    denominator: numeric().notNull().default('0'),
    /** The same metric before the first exposure; null for visitors without an earlier visit. */
    past: numeric(),
    /**
     * Of the primary metric, what it was expected to be from before the exposure, where the plan adjusts by that: it
     * takes the place of the past in the sums.
     */
    expected: numeric(),
    /** The amounts of money in them; null where the metric counts none, or for rows from before they were kept. */
    amounts: jsonb().$type<KeptAmount[]>(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.experimentId, table.metricVersionId] }),
    index('visitor_value_experiment').on(table.siteId, table.experimentId),
  ],
)

/** Visitors of an experiment's day who have more in common than is likely. */
export const crowd = pgTable(
  'crowd',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    day: date().notNull(),
    kind: text().$type<CrowdKind>().notNull(),
    /** What they have in common: the hash of the day of a network, a minute, a browser. */
    value: text().notNull(),
    /** Of each variant, the control first: how many, and what they came to in the primary metric. */
    arms: jsonb().$type<{ visitors: number; sum: number }[]>().notNull(),
    /** All visitors of the experiment on that day. */
    ofDay: integer().notNull(),
    /** What part of visitors is usually like that, from 0 to 1. */
    usual: doublePrecision().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId, table.day, table.kind, table.value] })],
)

/** Visitors of each variant: by day of their first exposure, and by each value of each segment. */
export const exposureCount = pgTable(
  'exposure_count',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    variant: smallint().notNull(),
    /** `day` with the day, `period` with its number and the day, `shown` with how fast, or the dimension with its value. */
    dimension: text().notNull(),
    value: text().notNull(),
    visitors: count(),
    crossed: count(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId, table.dimension, table.value, table.variant] })],
)

/**
 * Sums over visitors in exact decimals, so that nothing cancels: by day of their first exposure, and by each value of
 * each segment. Visitors with an earlier visit are kept apart, since only they have a covariate.
 */
export const statistic = pgTable(
  'statistic',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    metricVersionId: integer().notNull(),
    variant: smallint().notNull(),
    dimension: text().notNull(),
    value: text().notNull(),
    hasPast: boolean().notNull(),
    /** Visitors with a row in visitor_value, and those of them whose value is not zero. */
    visitors: count(),
    active: count(),
    sum: sum(),
    squares: sum(),
    denominatorSum: sum(),
    denominatorSquares: sum(),
    denominatorProducts: sum(),
    /** Of products of three: they tell how skewed the values are. */
    cubes: sum(),
    denominatorBySquares: sum(),
    denominatorSquaresByValue: sum(),
    denominatorCubes: sum(),
    pastSum: sum(),
    pastSquares: sum(),
    pastProducts: sum(),
    pastDenominatorProducts: sum(),
  },
  (table) => [
    primaryKey({
      columns: [
        table.siteId,
        table.experimentId,
        table.dimension,
        table.value,
        table.metricVersionId,
        table.variant,
        table.hasPast,
      ],
    }),
  ],
)

/** How far a site's views and events have been folded into the tables above. */
export const foldCursor = pgTable('fold_cursor', {
  siteId: integer().primaryKey(),
  seq: bigint({ mode: 'number' }).notNull(),
  foldedAt: at(),
  /** Time of the latest thing that was folded. */
  asOf: at(),
})

/** Events that could not be folded. They stop nobody, and are not forgotten. */
export const setAside = pgTable(
  'set_aside',
  {
    siteId: integer().notNull(),
    seq: bigint({ mode: 'number' }).notNull(),
    reason: text().notNull(),
    at: at().notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.seq] })],
)

/** Amounts in other currencies than the site's, by day: where there is no rate, they are in no sum. */
export const foreignAmount = pgTable(
  'foreign_amount',
  {
    siteId: integer().notNull(),
    day: date().notNull(),
    currency: text().notNull(),
    amounts: count(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.day, table.currency] })],
)

/** What intake refused, by day and reason, so that it can be told beside the numbers. */
export const refusal = pgTable(
  'refusal',
  {
    siteId: integer().notNull(),
    day: date().notNull(),
    reason: text().notNull(),
    events: count(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.day, table.reason] })],
)

/** What a comparison said on a day: the last look of that day. */
export const look = pgTable(
  'look',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    metricVersionId: integer().notNull(),
    variant: smallint().notNull(),
    day: date().notNull(),
    asOf: at().notNull(),
    controlVisitors: bigint({ mode: 'number' }).notNull(),
    visitors: bigint({ mode: 'number' }).notNull(),
    controlMean: doublePrecision(),
    mean: doublePrecision(),
    lift: doublePrecision(),
    low: doublePrecision(),
    high: doublePrecision(),
    pValue: doublePrecision(),
    fixedLow: doublePrecision(),
    fixedHigh: doublePrecision(),
    fixedPValue: doublePrecision(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.experimentId, table.metricVersionId, table.variant, table.day] }),
  ],
)

/** What a plan that spends its error until its end said of a variant when a day was over. It is never changed. */
export const plannedLook = pgTable(
  'planned_look',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    variant: smallint().notNull(),
    /** Days of the run that were over. */
    daysRun: smallint().notNull(),
    at: at().notNull(),
    controlVisitors: bigint({ mode: 'number' }).notNull(),
    visitors: bigint({ mode: 'number' }).notNull(),
    controlMean: doublePrecision().notNull(),
    mean: doublePrecision().notNull(),
    /** Of one visitor’s value. */
    controlVariance: doublePrecision().notNull(),
    variance: doublePrecision().notNull(),
    share: doublePrecision().notNull(),
    bound: doublePrecision(),
    pValue: doublePrecision().notNull(),
    adjustedLift: doublePrecision(),
    adjustedLow: doublePrecision(),
    adjustedHigh: doublePrecision(),
    isLast: boolean().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId, table.variant, table.daysRun] })],
)

/** The first verdict of an experiment that ended the question. It is never changed. */
export const reachedVerdict = pgTable(
  'reached_verdict',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    content: jsonb().$type<ReachedVerdict>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId] })],
)

/** What lists and Today show of an experiment, as of the last fold that concerned it. */
export const experimentSummary = pgTable(
  'experiment_summary',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    content: jsonb().$type<StoredSummary>().notNull(),
    at: at().notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId] })],
)

/**
 * Experiments whose summary is to be computed: noted in the transaction that changes their numbers, and taken off once
 * it is stored, so that nothing which breaks in between leaves an old one.
 */
export const summaryDue = pgTable(
  'summary_due',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    /** Counts up each time it is noted: what is noted while a summary is computed stays. */
    times: integer().notNull().default(1),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId] })],
)

/** Work in the background that somebody waits for. The queue knows how to do it; here is how far it is. */
export const backgroundJob = pgTable(
  'background_job',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer().notNull(),
    experimentId: integer(),
    kind: text().$type<'refold' | 'pictures'>().notNull().default('refold'),
    title: text().notNull(),
    /** Versions of metrics that are measured for the first time. */
    added: integer()
      .array()
      .notNull()
      .default(sql`'{}'::int[]`),
    state: text().$type<'waiting' | 'running' | 'done' | 'failed' | 'canceled'>().notNull().default('waiting'),
    progress: doublePrecision().notNull().default(0),
    problem: text(),
    createdAt: at().notNull().defaultNow(),
    finishedAt: at(),
  },
  (table) => [index('background_job_site').on(table.siteId, table.id)],
)
