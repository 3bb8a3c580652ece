import { array, number, object, string, type InferType } from 'yup'

/** Largest batch that `POST /collect` reads, in bytes. */
export const LARGEST_BATCH = 64 * 1024
/** Most events in one batch. */
export const MOST_EVENTS = 200

export const EVENT_TYPES = ['page', 'exposure', 'click', 'submit', 'amount', 'custom', 'scroll', 'field'] as const

const SELECTOR_LENGTH = 500
const PROPERTIES_SIZE = 4096

/** One thing a visitor did. `at` is the browser's clock and, with `id`, the same whenever the event is sent again. */
export const collectedEventSchema = object({
  id: string().strict().uuid().required(),
  type: string().strict().oneOf(EVENT_TYPES).required(),
  at: number().strict().integer().min(0).max(8_640_000_000_000_000).required(),
  address: string().strict().max(2000).required(),
  experiment: number().strict().integer().min(1).max(2_147_483_647),
  variant: number().strict().integer().min(0).max(99),
  selectors: array(string().strict().max(SELECTOR_LENGTH).required()).strict().max(20),
  name: string().strict().max(100),
  amount: number().strict().min(-1e12).max(1e12),
  currency: string()
    .strict()
    .matches(/^[A-Z]{3}$/),
  properties: object()
    .strict()
    .test('size', 'is too large', (value) => !value || JSON.stringify(value).length <= PROPERTIES_SIZE),
})
export type CollectedEvent = Omit<InferType<typeof collectedEventSchema>, 'properties'> & {
  properties?: Record<string, unknown>
}

/** What a browser sends. Events are checked one by one, so that a bad one does not cost the others. */
export const collectedBatchSchema = object({
  key: string().strict().max(40).required(),
  visitor: string()
    .strict()
    .matches(/^[\w-]{8,64}$/)
    .required(),
  session: string()
    .strict()
    .matches(/^[\w-]{4,64}$/)
    .required(),
  /** The browser's clock at the time of sending. */
  sent: number().strict().integer().min(0).max(8_640_000_000_000_000).required(),
  events: array().strict().min(1).max(MOST_EVENTS).required(),
})
export type CollectedBatch = InferType<typeof collectedBatchSchema>

export interface CollectReply {
  accepted: number
  refused: { id: string | null; why: string }[]
}
