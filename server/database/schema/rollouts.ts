import { sql } from 'drizzle-orm'
import { boolean, index, integer, jsonb, pgTable, smallint, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core'
import type { HomeLook } from '../../../shared/rollouts/replies'
import { experiment } from './experiments'
import { person } from './people'
import { site } from './sites'

/** What an experiment has won, served from then on. What it changes, where and for whom stays on the ended sheet. */
export const rollout = pgTable(
  'rollout',
  {
    /** Drawn with those of experiments: browsers tell what they show by one number. */
    id: integer()
      .primaryKey()
      .default(sql`nextval('experiment_id_seq')`),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    experimentId: integer()
      .notNull()
      .references(() => experiment.id),
    /** The variant that is served. */
    variantId: text().notNull(),
    /** Keeps who gets it independent of who saw what in the experiment. */
    salt: text().notNull(),
    /** Of 10,000 buckets. */
    share: smallint().notNull(),
    /** Whether the audience of the experiment does not count any more. */
    isForEverybody: boolean().notNull(),
    isOn: boolean().notNull().default(true),
    /** Counts up with every change. */
    version: integer().notNull().default(1),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    changedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('rollout_site').on(table.siteId), uniqueIndex('rollout_experiment').on(table.experimentId)],
)

/** Whether the site itself shows by now what is served: the latest look. */
export const homeCheck = pgTable('home_check', {
  /** Of the sheet: a personalization, or the experiment that a rollout comes from. */
  experimentId: integer()
    .primaryKey()
    .references(() => experiment.id),
  siteId: integer()
    .notNull()
    .references(() => site.id),
  look: jsonb().$type<HomeLook>().notNull(),
  checkedAt: timestamp({ withTimezone: true }).notNull(),
})

/** What the pages of a rollout say of what it changes, now and then looked at; see `driftCheck`. */
export const rolloutCheck = pgTable('rollout_check', {
  rolloutId: integer()
    .primaryKey()
    .references(() => rollout.id),
  siteId: integer()
    .notNull()
    .references(() => site.id),
  pages: text().array().notNull(),
  withLine: text().array().notNull().default([]),
  atStart: text().array().notNull(),
  drift: text().array().notNull(),
  since: timestamp({ withTimezone: true }),
  checkedAt: timestamp({ withTimezone: true }).notNull(),
})
