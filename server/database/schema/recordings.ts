import { bigint, index, integer, pgTable, primaryKey, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import { bytes } from './bytes'
import { person } from './people'

const at = () => timestamp({ withTimezone: true })

/** A session that was recorded: one row beside its chunks. */
export const recording = pgTable(
  'recording',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    sessionId: text().notNull(),
    /** By the browser's clock: the page views tell what it is off by. */
    startedAt: at().notNull(),
    endedAt: at().notNull(),
    chunks: integer().notNull(),
    bytes: bigint({ mode: 'number' }).notNull(),
    receivedAt: at().notNull().defaultNow(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.sessionId] }),
    index('recording_time').on(table.siteId, table.startedAt),
  ],
)

/** A stretch of a recorded page view, as the browser has sent it, compressed. */
export const recordingChunk = pgTable(
  'recording_chunk',
  {
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    sessionId: text().notNull(),
    id: uuid().notNull(),
    viewId: uuid().notNull(),
    /** Its place within the page view. */
    number: integer().notNull(),
    content: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.visitorId, table.sessionId, table.id] })],
)

/** What somebody has seen at a moment of a recording. */
export const recordingNote = pgTable(
  'recording_note',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    siteId: integer().notNull(),
    visitorId: text().notNull(),
    sessionId: text().notNull(),
    /** ms from the beginning of the recording */
    moment: integer().notNull(),
    words: text().notNull(),
    createdBy: integer().references(() => person.id),
    createdAt: at().notNull().defaultNow(),
  },
  (table) => [index('recording_note_session').on(table.siteId, table.visitorId, table.sessionId)],
)
