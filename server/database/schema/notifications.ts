import { isNotNull, isNull, sql } from 'drizzle-orm'
import { index, integer, pgTable, smallint, text, timestamp, unique, uniqueIndex } from 'drizzle-orm/pg-core'
import { DEFAULT_TIMES } from '../../../core/notifications/letterTime'
import type { OccurrenceKind, Way, WebhookKind } from '../../../core/notifications/occurrence'
import { experiment } from './experiments'
import { person } from './people'
import { site } from './sites'

const at = () => timestamp({ withTimezone: true })

/** Something that people and webhooks are told of. */
export const occurrence = pgTable(
  'occurrence',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    experimentId: integer().references(() => experiment.id),
    kind: text().$type<OccurrenceKind>().notNull(),
    /** What happened, so that it is told once; null of what may happen again. */
    cause: text(),
    title: text().notNull(),
    text: text().notNull(),
    /** Below the site, with what stands behind the #. */
    path: text().notNull(),
    happenedAt: at().notNull(),
    byPerson: integer().references(() => person.id, { onDelete: 'set null' }),
  },
  (table) => [unique('occurrence_cause').on(table.siteId, table.cause), index('occurrence_time').on(table.happenedAt)],
)

/** An occurrence, as one person is told of it. */
export const notification = pgTable(
  'notification',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    occurrenceId: integer()
      .notNull()
      .references(() => occurrence.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    way: text().$type<Way>().notNull(),
    seenAt: at(),
    /** When a letter may tell of it; null where none does. */
    dueAt: at(),
    letterId: integer().references(() => letter.id, { onDelete: 'set null' }),
  },
  (table) => [
    unique('notification_once').on(table.occurrenceId, table.personId),
    index('notification_person').on(table.personId, table.siteId, table.id),
    index('notification_letter').on(table.letterId),
    index('notification_due').on(table.dueAt).where(isNull(table.letterId)),
  ],
)

/** How a person wants to be told of one kind: of an experiment, or of all. */
export const notificationChoice = pgTable(
  'notification_choice',
  {
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    siteId: integer().references(() => site.id),
    experimentId: integer().references(() => experiment.id),
    kind: text().$type<OccurrenceKind>().notNull(),
    way: text().$type<Way>().notNull(),
  },
  (table) => [uniqueIndex('notification_choice_once').on(table.personId, sql`coalesce(experiment_id, 0)`, table.kind)],
)

/** When a person wants letters, where they have said so. */
export const letterTimes = pgTable('letter_times', {
  personId: integer()
    .primaryKey()
    .references(() => person.id, { onDelete: 'cascade' }),
  /** null: that of the site. */
  timeZone: text(),
  quietFrom: smallint().notNull().default(DEFAULT_TIMES.quietFrom),
  quietUntil: smallint().notNull().default(DEFAULT_TIMES.quietUntil),
  morningAt: smallint().notNull().default(DEFAULT_TIMES.morningAt),
})

/** A letter that tells a person of what has happened, until it is sent and for a while after. */
export const letter = pgTable(
  'letter',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    subject: text().notNull(),
    text: text().notNull(),
    createdAt: at().notNull(),
    attempts: smallint().notNull().default(0),
    /** null once it is sent or given up. */
    nextTryAt: at(),
    sentAt: at(),
    /** Why it could not be sent the last time. */
    problem: text(),
  },
  (table) => [
    index('letter_next').on(table.nextTryAt).where(isNotNull(table.nextTryAt)),
    index('letter_person').on(table.personId, table.createdAt),
  ],
)

/** An address of a program that is told of what happens on a site. */
export const webhook = pgTable(
  'webhook',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    address: text().notNull(),
    /** Signs what is sent. */
    secret: text().notNull(),
    kinds: text().array().$type<WebhookKind[]>().notNull(),
    createdBy: integer().references(() => person.id, { onDelete: 'set null' }),
    createdAt: at().notNull().defaultNow(),
    /** Somebody paused it: nothing is sent. */
    pausedAt: at(),
    /** Nobody answered for so long that nothing is sent any more. */
    gaveUpAt: at(),
  },
  (table) => [index('webhook_site').on(table.siteId)],
)

/** One occurrence that is sent to a webhook, with how it went. */
export const webhookDelivery = pgTable(
  'webhook_delivery',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer().notNull(),
    webhookId: integer()
      .notNull()
      .references(() => webhook.id, { onDelete: 'cascade' }),
    kind: text().$type<WebhookKind | 'test'>().notNull(),
    /** What is signed and sent, to the letter. */
    body: text().notNull(),
    createdAt: at().notNull(),
    attempts: smallint().notNull().default(0),
    nextTryAt: at(),
    lastTriedAt: at(),
    deliveredAt: at(),
    /** Of the last answer; null where there was none. */
    status: smallint(),
    /** What the last answer said, or why there was none. */
    answer: text(),
  },
  (table) => [
    index('webhook_delivery_next').on(table.nextTryAt).where(isNotNull(table.nextTryAt)),
    index('webhook_delivery_webhook').on(table.siteId, table.webhookId, table.id),
  ],
)
