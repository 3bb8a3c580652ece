import { array, number, object, string, type InferType } from './yup'
import { isTimeOrderedId } from '../core/identity/timeOrderedId'

/** Largest chunk of a recording as it is sent, and unpacked, in bytes. */
export const LARGEST_CHUNK = 1024 * 1024
export const LARGEST_UNPACKED = 8 * 1024 * 1024
/** Most of one session, compressed, in bytes. */
export const LARGEST_RECORDING = 16 * 1024 * 1024
const MOST_EVENTS = 20_000
const LATEST = 2 ** 48

const timeOrdered = () =>
  string()
    .strict()
    .required()
    .test('time-ordered', 'is not a UUID of version 7', (value) => typeof value === 'string' && isTimeOrderedId(value))
const moment = () => number().strict().integer().min(0).max(LATEST).required()

/** A stretch of a recorded page view. Its id says once and for all which one it is; twice counts once. */
export const chunkSchema = object({
  key: string()
    .strict()
    .matches(/^[\w-]{1,40}$/, 'the key is not one of a site')
    .required(),
  visitor: string()
    .strict()
    .matches(/^[\w-]{8,64}$/, 'visitor is not a visitor id')
    .required(),
  session: string()
    .strict()
    .matches(/^[\w-]{4,64}$/, 'session is not a session id')
    .required(),
  view: timeOrdered(),
  id: timeOrdered(),
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
