import { array, number, object } from '../yup'
import { LARGEST_AMOUNT } from '../../core/measurement/money'
import { BEHAVIOR_TYPES, SURVEY_TYPES, type Behavior } from '../../core/evidence/behavior'
import { hasPropertiesOf } from '../collection/behavior'
import { siteKeyField } from './browserIds'
import {
  amount,
  anything,
  exactly,
  matching,
  named,
  oneOf,
  pair,
  sessionId,
  text,
  timeOrdered,
  visitorId,
  whole,
  type Fitting,
  type Guard,
  type ObjectGuard,
} from './guards'
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

const person = matching(/^[0-9a-f]{32}(\.[0-9a-f]{32})?$/, 'is not what stands for a person')
const told = named(30, 60, 100)
const pixels = whole(-1_000_000, 10_000_000)

/**
 * One page view: who, in which session, where, and with what. Sent along with every batch that holds an event of it;
 * what arrives twice counts once. Its id carries the browser's time at which it began.
 */
export const collectedView = exactly(
  {
    id: timeOrdered,
    visitor: visitorId,
    session: sessionId,
    address: text(4000, 1),
  },
  {
    title: text(300),
    referrer: text(4000),
    language: text(40),
    timeZone: text(60),
    screen: pair(pixels),
    window: pair(pixels),
    /** Which of the visitor's visits it is, as far as the browser remembers. */
    visit: whole(1, 1_000_000),
    /** What stands for the person, where the page has named one, with its proof where it gives one; see `personId`. */
    person,
    /** What the page said of the visitor, by names. */
    attributes: told,
  },
)
export type CollectedView = Fitting<typeof collectedView>

const eventFields = exactly(
  {
    id: timeOrdered,
    view: timeOrdered,
    type: oneOf(EVENT_TYPES),
  },
  {
    person,
    /** Of an exposure, and of what is told of the elements of an experiment. */
    experiment: whole(1, 2_147_483_647),
    variant: whole(0, 99),
    /** Of an exposure to an experiment whose split moves: by the weights of which period it was drawn. */
    period: whole(0, 9999),
    /** Of an exposure, how long after the opening of the page its changes were there, in ms. */
    shownAfter: whole(0, 600_000),
    /**
     * Of a click or submission: the path of the element, where in it and on the page, and the label of a link or
     * button. Of a field the label that stands beside it.
     */
    element: text(LONGEST_PATH),
    label: text(120),
    at: pair(pixels),
    /** Per mille of the element's width and height. */
    within: pair(pixels),
    /** Of a custom event, form or field its name, of an amount the selector it was read from, of an error its message. */
    name: text(500),
    amount: amount(LARGEST_AMOUNT),
    currency: matching(/^[A-Z]{3}$/, 'is not a currency such as EUR'),
    /** Number of the order that an amount or custom event belongs to. */
    reference: text(200),
    /** What the page said of a custom event, by names. */
    details: told,
    /** Of behavior, in the form that its type has; see `behavior.ts`. */
    properties: anything as Guard<Behavior>,
  },
)
export type CollectedEvent = Fitting<typeof eventFields>

/** One thing a visitor did in a page view. Its id carries the browser's time of it. */
export const collectedEvent: ObjectGuard<CollectedEvent> = {
  ...eventFields,
  problem(value) {
    const problem = eventFields.problem(value)
    if (problem) return problem
    const { type, properties } = value as CollectedEvent
    return hasPropertiesOf(type, properties) ? null : 'properties are not those of its type'
  },
}

/** What a browser sends. Views and events are checked one by one, so that a bad one does not cost the others. */
export const collectedBatchSchema = object({
  key: siteKeyField(),
  /** The browser's clock at the time of sending, in ms since 1970. */
  sent: number().strict().integer().min(0).max(LATEST).required(),
  views: array().strict().min(1).max(MOST_VIEWS).required(),
  events: array().strict().max(MOST_EVENTS).required(),
})
