import { filterFields, isDay, SPAN } from '../evidence/filter'
import { object, string, type InferType } from '../yup'

const { from, to } = filterFields
export const marksQuery = object({ from, to }).test(...SPAN)
export type MarksQuery = InferType<typeof marksQuery>

/** A note on a day of the site. */
export const dayNoteSchema = object({
  day: string()
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Type the day, such as 2026-03-01.')
    .test('day', 'There is no such day.', (value) => value === undefined || isDay(value))
    .required('Say on which day.'),
  words: string().trim().max(300, 'This is longer than 300 characters.').required('Say in a few words what happened.'),
}).noUnknown()
export type DayNoteInput = InferType<typeof dayNoteSchema>
