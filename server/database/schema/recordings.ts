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
    /** When it began as far as can be believed: by the browser's clock, but not after it was received, nor long before. */
    listedAt: at().notNull(),
    chunks: integer().notNull(),
    bytes: bigint({ mode: 'number' }).notNull(),
    /** Bytes of its chunks before they were compressed. */
    unpacked: bigint({ mode: 'number' }).notNull().default(0),
    /** When its first chunk came: what is kept, and for how long, goes by this. */
    receivedAt: at().notNull().defaultNow(),
    /** Hash of the day of the network that it came from. */
    network: text(),
  },
  (table) => [
    primaryKey({ columns: [table.siteId, table.visitorId, table.sessionId] }),
    index('recording_listed').on(table.siteId, table.listedAt),
    index('recording_received').on(table.siteId, table.receivedAt),
    index('recording_network').on(table.siteId, table.network),
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
    /** Bytes of the content before it was compressed; null of what came before they were counted. */
    unpacked: integer(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.visitorId, table.sessionId, table.id] })],
)

/** A style sheet of another host that pages of the site link to, as it was found. */
export const keptStyleSheet = pgTable(
  'kept_style_sheet',
  {
    siteId: integer().notNull(),
    address: text().notNull(),
    digest: text().notNull(),
    content: text().notNull(),
    firstAt: at().notNull(),
    /** When it was found so for the last time. */
    lastAt: at().notNull(),
  },
  (table) => [primaryKey({ columns: [table.siteId, table.address, table.digest] })],
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
