import { doublePrecision, pgTable, text, timestamp } from 'drizzle-orm/pg-core'

const at = () => timestamp({ withTimezone: true })

/** What each process of Vetch says of itself every few seconds. */
export const runningProcess = pgTable('running_process', {
  /** Role, host and number. */
  name: text().primaryKey(),
  role: text().notNull(),
  startedAt: at().notNull(),
  seenAt: at().notNull(),
  /** How late its event loop was lately: of 100 turns the slowest but one, in ms. */
  delay: doublePrecision().notNull(),
  /** The longest that a piece of its work took lately, in ms; null where there was none. */
  work: doublePrecision(),
})
