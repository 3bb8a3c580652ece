import { parse } from 'css-what'
import { array, boolean, lazy, number, object, string, type Schema } from '../yup'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import type { Activation } from '../../core/targeting/activation'

const activationSchema = object({
  on: string()
    .oneOf(['event', 'element', 'call'] as const, 'Choose what it waits for.')
    .required('Choose what it waits for.'),
  name: string()
    .trim()
    .max(100, 'The name is longer than 100 characters.')
    .when('on', {
      is: (on: unknown) => on === 'event' || on === 'call',
      then: (schema) => schema.required('Type the name that it waits for.'),
    }),
  selector: string()
    .trim()
    .max(500, 'The element is longer than 500 characters.')
    .when('on', {
      is: 'element',
      then: (schema) =>
        schema
          .required('Name the element that it waits for.')
          .test('selector', 'This is not a CSS selector. Write one such as #book or .fare a.', isSelector),
    }),
})

const rampStepSchema = object({
  share: number()
    .typeError('Type the share of a step in percent.')
    .integer('A share has at most two decimals.')
    .min(1, 'A step takes at least 0.01 %.')
    .max(10_000, 'A share is at most 100 %.')
    .required('Type the share of a step in percent.'),
  days: number()
    .typeError('Type how many days a step lasts.')
    .integer('Use whole days.')
    .min(1, 'A step lasts at least one day.')
    .max(90, 'A step lasts at most 90 days.')
    .required('Type how many days a step lasts.'),
})

/** On which terms an experiment takes its visitors. */
export const termsSchema = object({
  unit: string()
    .oneOf(['visitor', 'person'] as const, 'Choose who counts as one.')
    .default(PLAIN_TERMS.unit),
  group: number().integer().min(1).nullable().default(null),
  rank: number()
    .typeError('Type the place as a whole number.')
    .integer('Type the place as a whole number.')
    .min(1, 'The first place is 1.')
    .max(1000, 'The last place is 1,000.')
    .default(PLAIN_TERMS.rank),
  activation: lazy((value: unknown) =>
    value === null || value === undefined ? object().nullable().default(null) : activationSchema,
  ) as unknown as Schema<Activation | null>,
  leaves: boolean().default(false),
  apartFrom: array(number().integer().min(1).required()).max(50, 'At most 50 tests.').default(undefined),
  ramp: array(rampStepSchema.required()).max(10, 'At most ten steps.').default([]),
})

function isSelector(text: string | undefined): boolean {
  try {
    return text === undefined || parse(text).length > 0
  } catch {
    return false
  }
}
