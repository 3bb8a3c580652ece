import { number, object, string } from '../yup'
import { filterFields, SPAN } from '../evidence/filter'
import { funnelPlanSchema, MOST_STEPS, type FunnelInput } from '../evidence/funnel'

/** What recordings can be searched by, as it stands in the address: several separated by commas. */
export const HAPPENINGS = [
  'rage',
  'dead',
  'error',
  'submit',
  'custom',
  'amount',
  'field',
  'left-form',
  'answer',
] as const
export type Happening = (typeof HAPPENINGS)[number]
export const MOST_RECORDINGS = 200

export function readHappenings(text: string | undefined): Happening[] | null {
  if (!text) return []
  const parts = text.split(',')
  return parts.every((part): part is Happening => (HAPPENINGS as readonly string[]).includes(part)) ? parts : null
}

/** The funnel that a text holds, or null. */
export function readPlan(text: string): FunnelInput | null {
  try {
    return funnelPlanSchema.validateSync(JSON.parse(text))
  } catch {
    return null
  }
}

export const recordingsQuery = object({
  ...filterFields,
  happened: string()
    .max(200, 'Name fewer things that happened.')
    .test('happened', 'There is nothing of this name that happens.', (value) => readHappenings(value) !== null),
  /** Seconds that a session lasted at least. */
  seconds: number()
    .typeError('Type the seconds as a number.')
    .integer('Type whole seconds.')
    .min(0, 'At least 0 seconds.')
    .max(86_400, 'At most a day.')
    .default(0),
  /** Part of what an element says that was clicked, or of its path. */
  clicked: string().max(100, 'Search for at most 100 characters.'),
  /** Of those only who left a funnel: its plan as JSON, and the step after which they left, counted from 0. */
  plan: string()
    .max(8000, 'The funnel is too long.')
    .test('plan', 'There is no such funnel.', (value) => value === undefined || readPlan(value) !== null),
  left: number().integer('left is a whole number.').min(0, 'left is at least 0.').max(MOST_STEPS),
  /** Of one visitor only. */
  visitor: string().max(64, 'There is no such visitor.'),
}).test(...SPAN)

export const styleSheetQuery = object({
  address: string().max(2000, 'The address is too long.').required('Name the address of the style sheet.'),
  /** ms since 1970 */
  at: number().integer('at is a whole number.').min(0, 'at is at least 0.').required('Say of which moment.'),
})

export const eventsQuery = object({
  /** Chunks that were read before. */
  after: number().integer('after is a whole number.').min(0, 'after is at least 0.').default(0),
})

export const noteSchema = object({
  moment: number()
    .typeError('Say at which moment.')
    .integer('A moment is a whole number of milliseconds.')
    .min(0, 'A moment is at least 0.')
    .required('Say at which moment.'),
  words: string().trim().max(1000, 'The note is longer than 1,000 characters.').required('Write what you saw.'),
})
