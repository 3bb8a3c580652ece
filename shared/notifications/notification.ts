import { OCCURRENCE_KINDS, WAYS } from '../../core/notifications/occurrence'
import { pageSchema } from '../api/paging'
import { isTimeZone } from '../sites/site'
import { array, boolean, number, object, string, type InferType } from '../yup'

export const notificationsQuerySchema = pageSchema.shape({
  /** Only what has not been seen. */
  unseen: boolean().default(false),
})
export type NotificationsQuery = InferType<typeof notificationsQuerySchema>

export const seenSchema = object({
  /** The latest notification that was shown. */
  upTo: number().integer('Name the notification by its number.').min(1).required('Name the latest one that was seen.'),
}).noUnknown()

const way = string().oneOf(WAYS, 'Choose one of the ways to be told.')
const kind = string().oneOf(OCCURRENCE_KINDS, 'There is no such kind of notification.').required()

/** How somebody wants to be told of kinds; null takes their choice back. */
export const waysSchema = array(object({ kind, way: way.nullable().defined() }).noUnknown())
  .max(2 * OCCURRENCE_KINDS.length)
  .required()
export type WaysInput = InferType<typeof waysSchema>

const minute = () =>
  number()
    .typeError('Type a time, such as 8:00.')
    .integer('Type a time, such as 8:00.')
    .min(0, 'Type a time, such as 8:00.')
    .max(1439, 'Type a time, such as 8:00.')
    .required('Type a time, such as 8:00.')
export const letterTimesSchema = object({
  timeZone: string()
    .trim()
    .max(100)
    .nullable()
    .defined()
    .test('zone', 'There is no such time zone. Type one such as Europe/Dublin.', (zone) => !zone || isTimeZone(zone)),
  quietFrom: minute(),
  quietUntil: minute(),
  morningAt: minute(),
}).noUnknown()
export type LetterTimesInput = InferType<typeof letterTimesSchema>

export const toldChoicesSchema = object({ ways: waysSchema, times: letterTimesSchema.default(undefined) }).noUnknown()
export const experimentWaysSchema = object({ ways: waysSchema }).noUnknown()

/** The secret of a letter's link; without ways, one step less of everything that the letter told. */
export const hearLessSchema = object({
  key: string().strict().typeError('The link is not complete.').max(100).required('The link is not complete.'),
  ways: array(
    object({ kind, experimentId: number().integer().min(1).nullable().defined(), way: way.required() }).noUnknown(),
  ).max(100),
}).noUnknown()
export type HearLessInput = InferType<typeof hearLessSchema>
