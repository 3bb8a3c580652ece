import {
  bigint,
  boolean,
  date,
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

/**
 * What visitors did, as their browsers reported it. Partitioned by month of `madeAt`, which is taken
 * from the event itself and so is the same when an event is sent twice; the primary key makes it count once.
 */
export const event = pgTable(
  'event',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    id: uuid().notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
    /** Order of arrival. */
    seq: bigint({ mode: 'number' }).notNull(),
    type: text().notNull(),
    /** When it happened, corrected where the browser's clock was off. */
    occurredAt: timestamp({ withTimezone: true }).notNull(),
    receivedAt: timestamp({ withTimezone: true }).notNull(),
    sessionId: text().notNull(),
    address: text().notNull(),
    experimentId: integer(),
    variant: smallint(),
    selectors: text().array(),
    name: text(),
    amount: numeric(),
    currency: text(),
    properties: jsonb().$type<Record<string, unknown>>(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.id, table.madeAt] }),
    index('event_by_seq').on(table.seq),
  ],
)

/** The first time a visitor saw an experiment: one row a visitor and experiment. */
export const exposure = pgTable(
  'exposure',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    experimentId: integer().notNull(),
    variant: smallint().notNull(),
    exposedAt: timestamp({ withTimezone: true }).notNull(),
    /** Day of `exposedAt` in the site's time zone. */
    day: date().notNull(),
    /** The visitor was seen in another variant as well. */
    crossed: boolean().notNull().default(false),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.visitorId, table.experimentId] })],
)

/** What a visitor adds to the statistics of a metric. No row means zero, and no earlier visit. */
export const visitorValue = pgTable(
  'visitor_value',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    experimentId: integer().notNull(),
    metricId: integer().notNull(),
    variant: smallint().notNull(),
    day: date().notNull(),
    value: numeric().notNull(),
    /** Of a ratio. */
    denominator: numeric().notNull().default('0'),
    /** The same metric before the first exposure; null for visitors without an earlier visit. */
    past: numeric(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.visitorId, table.experimentId, table.metricId] })],
)

/** Visitors of each variant by day of their first exposure. */
export const exposureCount = pgTable(
  'exposure_count',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    variant: smallint().notNull(),
    day: date().notNull(),
    visitors: bigint({ mode: 'number' }).notNull(),
    crossed: bigint({ mode: 'number' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.variant, table.day] })],
)

/**
 * Sums over visitors by day of their first exposure, in exact decimals so that nothing cancels. Visitors with an
 * earlier visit are kept apart, since only they have a covariate.
 */
export const statistic = pgTable(
  'statistic',
  {
    siteId: integer().notNull(),
    experimentId: integer().notNull(),
    metricId: integer().notNull(),
    variant: smallint().notNull(),
    day: date().notNull(),
    hasPast: boolean().notNull().default(false),
    /** Visitors with a row in visitor_value, and those of them whose value is not zero. */
    visitors: bigint({ mode: 'number' }).notNull().default(0),
    active: bigint({ mode: 'number' }).notNull().default(0),
    sum: numeric().notNull(),
    sumOfSquares: numeric().notNull(),
    denominatorSum: numeric().notNull().default('0'),
    denominatorSquares: numeric().notNull().default('0'),
    denominatorProducts: numeric().notNull().default('0'),
    pastSum: numeric().notNull().default('0'),
    pastSquares: numeric().notNull().default('0'),
    pastProducts: numeric().notNull().default('0'),
    pastDenominatorProducts: numeric().notNull().default('0'),
  },
  (table) => [primaryKey({ columns: [table.experimentId, table.metricId, table.variant, table.day, table.hasPast] })],
)

/** How far events have been folded into the tables above. One row. */
export const foldCursor = pgTable('fold_cursor', {
  id: smallint().primaryKey(),
  seq: bigint({ mode: 'number' }).notNull(),
  foldedAt: timestamp({ withTimezone: true }),
})
