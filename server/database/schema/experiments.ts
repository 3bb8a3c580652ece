import {
  doublePrecision,
  foreignKey,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
} from 'drizzle-orm/pg-core'
import type { Edit } from '../../../core/edits/edit'
import type { MetricSource } from '../../../core/measurement/metric'
import type { PageRule } from '../../../core/targeting/pageRule'
import type { DecisionPlan } from '../../../core/verdict/verdict'
import { person } from './people'
import { site } from './sites'

export const experimentState = pgEnum('experiment_state', ['draft', 'running', 'paused', 'ended'])
export const metricKind = pgEnum('metric_kind', ['conversion', 'mean', 'ratio'])
export const metricRole = pgEnum('metric_role', ['primary', 'secondary', 'guardrail'])
export const direction = pgEnum('direction', ['up', 'down'])

export const experiment = pgTable(
  'experiment',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    name: text().notNull(),
    hypothesis: text().notNull().default(''),
    state: experimentState().notNull().default('draft'),
    /** Drawn once; keeps who sees what in this experiment independent of every other. */
    salt: text().notNull(),
    pageRules: jsonb().$type<PageRule[]>().notNull(),
    /** Of 10,000 buckets. */
    share: smallint().notNull().default(10_000),
    plan: jsonb().$type<DecisionPlan & { baseline: number }>().notNull(),
    /** Counts up with every saved change, so that two people do not overwrite each other. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    startedAt: timestamp({ withTimezone: true }),
    endedAt: timestamp({ withTimezone: true }),
    deletedAt: timestamp({ withTimezone: true }),
  },
  (table) => [index('experiment_site').on(table.siteId, table.state)],
)

/** Position 0 is the control. */
export const variant = pgTable(
  'variant',
  {
    experimentId: integer()
      .notNull()
      .references(() => experiment.id),
    position: smallint().notNull(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    name: text().notNull(),
    weight: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.position] })],
)

export const edit = pgTable(
  'edit',
  {
    experimentId: integer().notNull(),
    variantPosition: smallint().notNull(),
    position: smallint().notNull(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    content: jsonb().$type<Edit>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.experimentId, table.variantPosition, table.position] }),
    foreignKey({
      columns: [table.experimentId, table.variantPosition],
      foreignColumns: [variant.experimentId, variant.position],
    }).onDelete('cascade'),
  ],
)

export const metric = pgTable('metric', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  siteId: integer()
    .notNull()
    .references(() => site.id),
  name: text().notNull(),
  kind: metricKind().notNull(),
  /** What is counted; of a ratio, the numerator. */
  source: jsonb().$type<MetricSource>().notNull(),
  denominator: jsonb().$type<MetricSource>(),
})

export const experimentMetric = pgTable(
  'experiment_metric',
  {
    experimentId: integer()
      .notNull()
      .references(() => experiment.id),
    metricId: integer()
      .notNull()
      .references(() => metric.id),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    role: metricRole().notNull(),
    direction: direction().notNull().default('up'),
    /** Relative change to the worse that a guardrail may not exceed. */
    harmLimit: doublePrecision(),
    /** Order on the sheet. */
    position: smallint().notNull().default(0),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.metricId] })],
)
