import { index, integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'
import { bytes } from './bytes'
import { person } from './people'
import { site } from './sites'

/** A picture that variants show: named by what it holds, so that it never changes and browsers may keep it. */
export const sitePicture = pgTable(
  'site_picture',
  {
    siteId: integer()
      .notNull()
      .references(() => site.id),
    /** SHA-256 of the content, in hexadecimal. */
    digest: text().notNull(),
    /** As its content says. */
    type: text().notNull(),
    name: text().notNull(),
    content: bytes().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.digest] }),
    index('site_picture_latest').on(table.siteId, table.createdAt),
  ],
)
