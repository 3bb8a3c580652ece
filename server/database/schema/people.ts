import { sql } from 'drizzle-orm'
import {
  bigint,
  index,
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

/** Where somebody is signed in. The cookie holds a secret; here is only its hash. */
export const accountSession = pgTable(
  'account_session',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    hash: text().notNull().unique(),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    /** Browser and system, as their user agent names them. */
    device: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    usedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('account_session_person').on(table.personId)],
)

/** Devices on which a person has signed in before: strangers' guesses never lock them out there. */
export const knownDevice = pgTable(
  'known_device',
  {
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    hash: text().notNull(),
    usedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.personId, table.hash] })],
)

/** Counters of throttled attempts; the columns are those that rate-limiter-flexible expects. */
export const rateLimit = pgTable('rate_limit', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
})

/** Somebody who was asked to join an organisation. The link holds a secret; here is only its hash. */
export const invitation = pgTable(
  'invitation',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    organisationId: integer()
      .notNull()
      .references(() => organisation.id),
    email: text().notNull(),
    role: role().notNull(),
    hash: text().notNull().unique(),
    invitedBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
    /** Accepted or taken back: it opens nothing any more. */
    endedAt: timestamp({ withTimezone: true }),
  },
  (table) => [index('invitation_organisation').on(table.organisationId, table.id)],
)

/** A way to choose a new password, once, for a while. The link holds a secret; here is only its hash. */
export const passwordReset = pgTable('password_reset', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  personId: integer()
    .notNull()
    .references(() => person.id, { onDelete: 'cascade' }),
  hash: text().notNull().unique(),
  expiresAt: timestamp({ withTimezone: true }).notNull(),
  usedAt: timestamp({ withTimezone: true }),
})
