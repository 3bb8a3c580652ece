import {
  doublePrecision,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type { MetricSource } from '../../../core/measurement/metric'
import { site } from './sites'

export const metricKind = pgEnum('metric_kind', ['conversion', 'mean', 'ratio'])

/** What a site measures. Its definition is that of its latest version. */
export const metric = pgTable(
  'metric',
  {
    /** Drawn where the metric is made. */
    id: text().primaryKey(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    name: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('metric_site').on(table.siteId)],
)

/** A definition of a metric: never changed once a started experiment uses it. */
export const metricVersion = pgTable(
  'metric_version',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    metricId: text()
      .notNull()
      .references(() => metric.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    kind: metricKind().notNull(),
    /** What is counted; of a ratio, the numerator. */
    source: jsonb().$type<MetricSource>().notNull(),
    denominator: jsonb().$type<MetricSource>(),
    /** Most that a visitor's sum counts as; null for no cap. */
    cap: doublePrecision(),
    /** Days for which a visitor is measured, and after which they count; null for as long as the experiment runs. */
    windowDays: integer(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [uniqueIndex('metric_version_number').on(table.metricId, table.version)],
)
