import { date, index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core'
import { person } from './people'
import { site } from './sites'

/** What people write down about a day of their site: prices were raised, a campaign began. */
export const dayNote = pgTable(
  'day_note',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    /** By the clock of the site. */
    day: date().notNull(),
    words: text().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('day_note_day').on(table.siteId, table.day)],
)
