import { CROWD_KINDS } from '../../core/traffic/crowd'
import { SEGMENT_DIMENSIONS } from '../../core/traffic/segment'
import { VISITOR_ID } from '../intake/browserIds'
import { object, string } from '../yup'

const moment = (what: string) =>
  string()
    .strict()
    .typeError(`Say ${what}.`)
    .test(
      'moment',
      `Say ${what} as a date and time.`,
      (value) => value === undefined || !Number.isNaN(Date.parse(value)),
    )

export const exclusionSchema = object({
  kind: string()
    .oneOf(
      ['visitor', 'team', 'span', 'crowd', 'segment'] as const,
      'Leave out a visitor, the team’s own networks, a span of time, a crowd, or a segment.',
    )
    .required('Say who is left out.'),
  visitor: string()
    .trim()
    .matches(VISITOR_ID, 'Type the visitor’s id as it stands in their cookie.')
    .when('kind', { is: 'visitor', then: (schema) => schema.required('Type the visitor’s id.') }),
  /** As the results name it. */
  crowd: object({
    day: string()
      .matches(/^\d{4}-\d\d-\d\d$/, 'Say the day as 2026-11-28.')
      .required('Say of which day.'),
    kind: string().oneOf(CROWD_KINDS, 'There is no such kind of crowd.').required('Say what they have in common.'),
    value: string().defined('Say what they have in common.').max(200, 'There is no such crowd.'),
  })
    .noUnknown()
    .optional()
    .default(undefined)
    .when('kind', { is: 'crowd', then: (schema) => schema.required('Say which crowd.') }),
  /** As the visitors by variant name it. */
  segment: object({
    dimension: string()
      .oneOf(SEGMENT_DIMENSIONS, 'Visitors are not kept apart by that.')
      .required('Say what they have in common.'),
    value: string().required('Say what they have in common.').max(200, 'There is no such segment.'),
  })
    .noUnknown()
    .optional()
    .default(undefined)
    .when('kind', { is: 'segment', then: (schema) => schema.required('Say which segment.') }),
  from: moment('from when').when('kind', { is: 'span', then: (schema) => schema.required('Say from when.') }),
  until: moment('until when')
    .when('kind', { is: 'span', then: (schema) => schema.required('Say until when.') })
    .test('order', 'The end lies before the beginning.', (until, { parent }) => {
      const from = (parent as { from?: string }).from
      return until === undefined || from === undefined || Date.parse(from) < Date.parse(until)
    }),
  reason: string()
    .trim()
    .max(500, 'The reason is longer than 500 characters.')
    .required('Say why, for those who read the numbers.'),
}).noUnknown()
