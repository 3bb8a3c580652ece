import { mixed, number, object, type InferType } from '../yup'
import { sessionField, siteKeyField, timeOrderedField, visitorField } from './browserIds'

/**
 * Largest chunk of a recording as it is sent, and unpacked, in bytes. Browsers end one at 60 KB, but for the picture of
 * a whole page, which comes in one piece.
 */
export const LARGEST_CHUNK = 1024 * 1024
export const LARGEST_UNPACKED = 4 * 1024 * 1024
/** Browsers nest elements 512 deep, and each takes a list and an object. */
export const DEEPEST_CHUNK = 1200
/** Most of one session, compressed and unpacked, in bytes. */
export const LARGEST_RECORDING = 16 * 1024 * 1024
export const LARGEST_UNPACKED_RECORDING = 128 * 1024 * 1024
const MOST_EVENTS = 20_000
const LATEST = 2 ** 48

export interface RecordedEvent {
  type: number
  timestamp: number
}

/** By hand: there are thousands in a chunk, and a schema takes as long for each as the page for all. */
function areEvents(events: unknown): events is RecordedEvent[] {
  return (
    Array.isArray(events) &&
    events.length > 0 &&
    events.length <= MOST_EVENTS &&
    events.every(
      (event: Partial<RecordedEvent> | null) =>
        typeof event === 'object' &&
        Number.isInteger(event?.type) &&
        event!.type! >= 0 &&
        event!.type! <= 20 &&
        Number.isFinite(event!.timestamp),
    )
  )
}

const moment = () => number().strict().integer().min(0).max(LATEST).required()

/** A stretch of a recorded page view. Its id says once and for all which one it is; twice counts once. */
export const chunkSchema = object({
  key: siteKeyField(),
  visitor: visitorField(),
  session: sessionField(),
  view: timeOrderedField(),
  id: timeOrderedField(),
  /** Its place within the page view. */
  number: number().strict().integer().min(0).max(100_000).required(),
  /** By the browser's clock, in ms since 1970. */
  first: moment(),
  last: moment(),
  /** As the recorder makes them; what plays them trusts nothing in them. */
  events: mixed<RecordedEvent[]>()
    .required()
    .test('events', `events are 1 to ${MOST_EVENTS}, each with its type and time`, areEvents),
}).noUnknown()

export type RecordedChunk = InferType<typeof chunkSchema>
