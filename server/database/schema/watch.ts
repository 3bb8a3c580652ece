import { isNull, sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core'
import type { WatchCheck } from '../../../core/watch/finding'
import { experiment } from './experiments'
import { person } from './people'
import { rollout } from './rollouts'
import { site } from './sites'

const at = () => timestamp({ withTimezone: true })

/**
 * What the watch counts by hour: the visits of a site, what each experiment had come to by its end, and to whom each
 * rollout was shown.
 */
export const watchedHour = pgTable(
  'watched_hour',
  {
    siteId: integer().notNull(),
    /** The number by which browsers tell of an experiment or a rollout; 0: the site itself. */
    experimentId: integer().notNull().default(0),
    hour: at().notNull(),
    counts: jsonb().$type<WatchedCounts>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.experimentId, table.hour] })],
)

/**
 * Of a site its visits and what came in; of an experiment sums since its start, by arm and by metric version; of a rollout
 * its visitors within the hour.
 */
export interface WatchedCounts {
  visits?: number
  shown?: number
  /** Views that came in within the hour, those of them that came late, and the place of the last one in their order. */
  arrived?: number
  arrivedLate?: number
  seq?: number
  visitors?: number[]
  timed?: number[]
  late?: number[]
  active?: Record<string, number[]>
}

/** Something that was wrong, from when until when. */
export const alarm = pgTable(
  'alarm',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    /** Without experiment and rollout it is of the site itself. */
    experimentId: integer().references(() => experiment.id),
    rolloutId: integer().references(() => rollout.id),
    check: text().$type<WatchCheck>().notNull(),
    /** What of it: one cause is one alarm for as long as it lasts. */
    cause: text().notNull(),
    text: text().notNull(),
    openedAt: at().notNull(),
    lastSeenAt: at().notNull(),
    closedAt: at(),
    acknowledgedAt: at(),
    acknowledgedBy: integer().references(() => person.id),
    /** What the person said who took it on. */
    word: text(),
  },
  (table) => [
    uniqueIndex('alarm_open')
      .on(table.siteId, sql`coalesce(experiment_id, rollout_id, 0)`, table.check, table.cause)
      .where(isNull(table.closedAt)),
    index('alarm_time').on(table.siteId, table.openedAt),
    index('alarm_experiment').on(table.siteId, table.experimentId),
  ],
)
