import { array, mixed, number, object, string, type InferType } from '../yup'
import { LARGEST_AMOUNT } from '../../core/measurement/money'
import { BEHAVIOR_TYPES, SURVEY_TYPES, type Behavior } from '../../core/evidence/behavior'
import { hasPropertiesOf } from '../collection/behavior'
import { sessionField, siteKeyField, timeOrderedField, visitorField } from './browserIds'
import { DAY } from '../../core/time/units'

/** Largest body that `POST /collect` reads, in bytes. */
export const LARGEST_BATCH = 64 * 1024
/** Most page views and most events in one batch. */
export const MOST_VIEWS = 50
export const MOST_EVENTS = 500
/** Older than this, in ms, and an event is refused: the snippet does not keep it longer either. */
export const OLDEST_EVENT = 7 * DAY
/** A tab may stay open for weeks; what was done in it is what must be new. */
export const OLDEST_VIEW = 5 * OLDEST_EVENT

export const EVENT_TYPES = [
  'exposure',
  'click',
  'submit',
  'amount',
  'custom',
  'error',
  'drift',
  ...BEHAVIOR_TYPES,
  ...SURVEY_TYPES,
] as const
const LONGEST_PATH = 2000
const LATEST = 2 ** 48

const word = (most: number) => string().strict().max(most)
const personField = () =>
  string()
    .strict()
    .matches(/^[0-9a-f]{32}(\.[0-9a-f]{32})?$/, 'is not what stands for a person')
const MOST_ATTRIBUTES = 30
function areAttributes(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false
  const entries = Object.entries(value)
  return (
    entries.length <= MOST_ATTRIBUTES &&
    entries.every(
      ([name, each]) =>
        name.length <= 60 &&
        ((typeof each === 'string' && each.length <= 100) || Number.isFinite(each) || typeof each === 'boolean'),
    )
  )
}
const pixels = () => number().strict().integer().min(-1_000_000).max(10_000_000)

/**
 * One page view: who, in which session, where, and with what. Sent along with every batch that holds an event of it;
 * what arrives twice counts once. Its id carries the browser's time at which it began.
 */
export const collectedViewSchema = object({
  id: timeOrderedField(),
  visitor: visitorField(),
  session: sessionField(),
  address: word(4000).required(),
  title: word(300),
  referrer: word(4000),
  language: word(40),
  timeZone: word(60),
  screen: array(pixels().required()).strict().length(2),
  window: array(pixels().required()).strict().length(2),
  /** Which of the visitor's visits it is, as far as the browser remembers. */
  visit: number().strict().integer().min(1).max(1_000_000),
  /** What stands for the person, where the page has named one, with its proof where it gives one; see `personId`. */
  person: personField(),
  /** What the page said of the visitor, by names. */
  attributes: mixed<Record<string, string | number | boolean>>().test(
    'attributes',
    'attributes are texts, numbers, yes or no, under at most 30 names',
    (value) => value === undefined || areAttributes(value),
  ),
}).noUnknown()

/** One thing a visitor did in a page view. Its id carries the browser's time of it. */
export const collectedEventSchema = object({
  id: timeOrderedField(),
  view: timeOrderedField(),
  type: string().strict().oneOf(EVENT_TYPES).required(),
  person: personField(),
  /** Of an exposure, and of what is told of the elements of an experiment. */
  experiment: number().strict().integer().min(1).max(2_147_483_647),
  variant: number().strict().integer().min(0).max(99),
  /**
   * Of a click or submission: the path of the element, where in it and on the page, and the label of a link or button.
   * Of a field the label that stands beside it.
   */
  element: word(LONGEST_PATH),
  label: word(120),
  at: array(pixels().required()).strict().length(2),
  /** Per mille of the element's width and height. */
  within: array(pixels().required()).strict().length(2),
  /** Of a custom event, form or field its name, of an amount the selector it was read from, of an error its message. */
  name: word(500),
  amount: number().strict().min(-LARGEST_AMOUNT).max(LARGEST_AMOUNT),
  currency: string()
    .strict()
    .matches(/^[A-Z]{3}$/, 'is not a currency such as EUR'),
  /** Number of the order that an amount or custom event belongs to. */
  reference: word(200),
  /** What the page said of a custom event, by names. */
  details: mixed<Record<string, string | number | boolean>>().test(
    'details',
    'details are texts, numbers, yes or no, under at most 30 names',
    (value) => value === undefined || areAttributes(value),
  ),
  /** Of behavior, in the form that its type has; see `behavior.ts`. */
  properties: mixed<Behavior>().test('properties', 'properties are not those of its type', (value, { parent }) =>
    hasPropertiesOf((parent as { type?: unknown }).type, value),
  ),
}).noUnknown()

export type CollectedView = InferType<typeof collectedViewSchema>
export type CollectedEvent = Omit<InferType<typeof collectedEventSchema>, 'properties'> & {
  properties?: Behavior
}

/** What a browser sends. Views and events are checked one by one, so that a bad one does not cost the others. */
export const collectedBatchSchema = object({
  key: siteKeyField(),
  /** The browser's clock at the time of sending, in ms since 1970. */
  sent: number().strict().integer().min(0).max(LATEST).required(),
  views: array().strict().min(1).max(MOST_VIEWS).required(),
  events: array().strict().max(MOST_EVENTS).required(),
})
