import { sql } from 'drizzle-orm'
import {
  bigint,
  integer,
  pgEnum,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  varchar,
} from 'drizzle-orm/pg-core'

export const role = pgEnum('role', ['owner', 'editor', 'viewer'])

export const organisation = pgTable('organisation', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
})

export const person = pgTable(
  'person',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    email: text().notNull(),
    name: text().notNull(),
    passwordHash: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [uniqueIndex('person_email').on(sql`lower(${table.email})`)],
)

export const membership = pgTable(
  'membership',
  {
    organisationId: integer()
      .notNull()
      .references(() => organisation.id),
    personId: integer()
      .notNull()
      .references(() => person.id),
    role: role().notNull(),
  },
  (table) => [primaryKey({ columns: [table.organisationId, table.personId] })],
)

/** Counters of throttled attempts; the columns are those that rate-limiter-flexible expects. */
export const rateLimit = pgTable('rate_limit', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
})
