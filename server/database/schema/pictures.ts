import { index, integer, jsonb, pgTable, primaryKey, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core'
import type { LayoutProblem } from '../../../core/layout/layoutProblems'
import { bytes } from './bytes'
import { experiment } from './experiments'
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

/** How a variant looks on a page in one width. */
export const variantPicture = pgTable(
  'variant_picture',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer()
      .notNull()
      .references(() => site.id),
    experimentId: integer()
      .notNull()
      .references(() => experiment.id),
    variantId: text().notNull(),
    path: text().notNull(),
    width: integer().notNull(),
    height: integer().notNull(),
    language: text().notNull(),
    /** Of what it shows: edits, page and device. */
    digest: text().notNull(),
    problems: jsonb().$type<LayoutProblem[]>().notNull(),
    /** JPEG. */
    content: bytes().notNull(),
    takenAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [uniqueIndex('variant_picture_place').on(table.experimentId, table.variantId, table.path, table.width)],
)
