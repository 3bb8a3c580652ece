import { index, integer, jsonb, pgTable, primaryKey, smallint, text, timestamp } from 'drizzle-orm/pg-core'
import type { Group } from '../../../core/targeting/condition'
import type { Persona } from '../../../core/targeting/persona'
import type { HoldoutReading } from '../../../shared/traffic/holdoutReading'
import { experiment } from './experiments'
import { person } from './people'
import { site } from './sites'

const ofSite = () =>
  integer()
    .notNull()
    .references(() => site.id)
const made = () => ({
  createdBy: integer().references(() => person.id),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  deletedAt: timestamp({ withTimezone: true }),
})

/** Experiments that exclude each other: a visitor takes part in one of them at most. */
export const exclusionGroup = pgTable(
  'exclusion_group',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    /** Each experiment has buckets of its own, or those of lower rank get whom the others leave. */
    kind: text().$type<'parts' | 'turns'>().notNull(),
    /** Drawn once: keeps who lies in which bucket independent of every experiment. */
    salt: text().notNull(),
    ...made(),
  },
  (table) => [index('exclusion_group_site').on(table.siteId)],
)

/** A share of the visitors who get nothing of what is started in a period: against them the sum of it is measured. */
export const holdout = pgTable(
  'holdout',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    salt: text().notNull(),
    /** Of 10,000 buckets. */
    share: smallint().notNull(),
    startsAt: timestamp({ withTimezone: true }).notNull(),
    endsAt: timestamp({ withTimezone: true }).notNull(),
    /** From then on it keeps nobody from anything; null before. */
    closedAt: timestamp({ withTimezone: true }),
    /** What it showed when it was closed: visits are not kept for ever. */
    reading: jsonb().$type<HoldoutReading>(),
    ...made(),
  },
  (table) => [index('holdout_site').on(table.siteId)],
)

/** Conditions under a name, to be used by several experiments. */
export const savedAudience = pgTable(
  'saved_audience',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    /** The version that new uses get. */
    version: integer().notNull().default(1),
    ...made(),
  },
  (table) => [index('saved_audience_site').on(table.siteId)],
)

/** What a saved audience asked, each time that it was changed. */
export const savedAudienceVersion = pgTable(
  'saved_audience_version',
  {
    siteId: ofSite(),
    audienceId: integer()
      .notNull()
      .references(() => savedAudience.id),
    version: integer().notNull(),
    conditions: jsonb().$type<Group>().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.audienceId, table.version] })],
)

/** What an environment shows of the experiments of its site, whatever state they are in. */
export const environmentShare = pgTable(
  'environment_share',
  {
    /** Of the experiment. */
    siteId: ofSite(),
    environmentId: integer()
      .notNull()
      .references(() => site.id),
    experimentId: integer()
      .notNull()
      .references(() => experiment.id),
    /** Of 10,000 buckets. */
    share: smallint().notNull(),
  },
  (table) => [primaryKey({ columns: [table.environmentId, table.experimentId] })],
)

/** A made-up visitor for dry runs. */
export const testPersona = pgTable(
  'test_persona',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: ofSite(),
    name: text().notNull(),
    /** By which buckets are drawn, as for any visitor. */
    visitorId: text().notNull(),
    facts: jsonb().$type<Persona>().notNull(),
    ...made(),
  },
  (table) => [index('test_persona_site').on(table.siteId)],
)
