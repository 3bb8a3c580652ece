import { boolean, index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core'
import { bytes } from './bytes'
import { finding } from './evidence'
import { hypothesis } from './hypotheses'
import { person } from './people'
import { site } from './sites'

/** A file that belongs to a finding or to a hypothesis. */
export const attachment = pgTable(
  'attachment',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    findingId: integer().references(() => finding.id, { onDelete: 'cascade' }),
    hypothesisId: integer().references(() => hypothesis.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    /** As its content says. */
    type: text().notNull(),
    content: bytes().notNull(),
    /** Shows the view or page that the finding is of. */
    isPicture: boolean().notNull().default(false),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [
    index('attachment_finding').on(table.siteId, table.findingId),
    index('attachment_hypothesis').on(table.siteId, table.hypothesisId),
  ],
)
