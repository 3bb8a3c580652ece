import { array, number, object, type InferType } from '../yup'
import { sessionField, siteKeyField, timeOrderedField, visitorField } from './browserIds'

/** Largest chunk of a recording as it is sent, and unpacked, in bytes. */
export const LARGEST_CHUNK = 1024 * 1024
export const LARGEST_UNPACKED = 8 * 1024 * 1024
/** Most of one session, compressed, in bytes. */
export const LARGEST_RECORDING = 16 * 1024 * 1024
const MOST_EVENTS = 20_000
const LATEST = 2 ** 48

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
  events: array(
    object({ type: number().strict().integer().min(0).max(20).required(), timestamp: number().strict().required() }),
  )
    .strict()
    .min(1)
    .max(MOST_EVENTS)
    .required(),
}).noUnknown()

export type RecordedChunk = InferType<typeof chunkSchema>
