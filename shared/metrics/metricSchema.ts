import { DETAIL_COMPARISONS, type DetailTest } from '../../core/measurement/eventDetails'
import type { MetricSource, OrderReference } from '../../core/measurement/metric'
import type { PageRule } from '../../core/targeting/pageRule'
import { pageRuleSchema } from '../audiences/pageRule'
import { countedSelectorSchema, selectorSchema } from '../edits/selector'
import { idSchema, MOST_METRICS } from '../experiments/sheetParts'
import { array, lazy, mixed, number, object, string } from '../yup'

/** Where the number of an order stands: in an element, or in a parameter of the address. */
const orderReferenceSchema = lazy((reference: object | null | undefined) => {
  if (!reference) return mixed<OrderReference>().nullable().default(null)
  return 'parameter' in reference
    ? object({
        parameter: string()
          .trim()
          .max(100, 'The parameter is longer than 100 characters.')
          .matches(/^[\w.~-]+$/, 'Name the parameter as it stands in the address, such as ref.')
          .required('Name the parameter, such as ref.'),
      })
    : object({ selector: selectorSchema })
})

/** Pages that something is counted on; without any, on all. */
const onPagesSchema = lazy((page: object | null | undefined) =>
  page ? pageRuleSchema : mixed<PageRule>().nullable().default(undefined),
)
const detailSchema = lazy((detail: object | null | undefined) =>
  detail
    ? object({
        name: string().trim().max(60, 'The name is longer than 60 characters.').required('Name the detail.'),
        is: string().oneOf(DETAIL_COMPARISONS, 'Choose a comparison.').required('Choose a comparison.'),
        texts: array(string().trim().max(200, 'A value is longer than 200 characters.').required('Type a value.'))
          .max(50, 'At most 50 values.')
          .when('is', { is: 'oneOf', then: (schema) => schema.min(1, 'Type a value.').required('Type a value.') }),
        number: number()
          .typeError('Type a number.')
          .nullable()
          .when('is', {
            is: (is: unknown) => is === 'least' || is === 'most',
            then: (schema) => schema.required('Type a number.'),
          }),
      })
    : mixed<DetailTest>().nullable().default(undefined),
)
/** Days within which a visitor may come back. */
export const MOST_RETURN_DAYS = 90

export const metricSourceSchema = lazy((source: { type?: unknown } | null | undefined) => metricSourceOf(source))

function metricSourceOf(source: { type?: unknown } | null | undefined) {
  switch (source?.type) {
    case 'visit':
      return object({
        type: string()
          .oneOf(['visit'] as const)
          .required(),
        page: pageRuleSchema.required(),
      })
    case 'click':
    case 'submit':
      return object({
        type: string()
          .oneOf(['click', 'submit'] as const)
          .required(),
        selector: countedSelectorSchema,
        page: onPagesSchema,
      })
    case 'engagement':
    case 'error':
    case 'timeInView':
      return object({
        type: string()
          .oneOf(['engagement', 'error', 'timeInView'] as const)
          .required(),
        page: onPagesSchema,
      })
    case 'visits':
    case 'bounces':
    case 'visitTime':
      return object({
        type: string()
          .oneOf(['visits', 'bounces', 'visitTime'] as const)
          .required(),
      })
    case 'return':
      return object({
        type: string()
          .oneOf(['return'] as const)
          .required(),
        days: number()
          .typeError('Type a number of days.')
          .integer('Use whole days.')
          .min(1, 'At least one day.')
          .max(MOST_RETURN_DAYS, `At most ${MOST_RETURN_DAYS} days.`)
          .required('Type a number of days.'),
      })
    case 'pageAmount':
      return object({
        type: string()
          .oneOf(['pageAmount'] as const)
          .required(),
        page: pageRuleSchema.required(),
        selector: selectorSchema,
        reference: orderReferenceSchema,
      })
    default:
      return object({
        type: string()
          .oneOf(['event'] as const, 'Choose what is counted.')
          .required(),
        name: string()
          .trim()
          .max(100, 'The name is longer than 100 characters.')
          .required('Type the name of the event.'),
        page: onPagesSchema,
        detail: detailSchema,
      }).required('Choose what is counted.')
  }
}

/** A test would wait as long for its last visitors. */
const MOST_WINDOW_DAYS = 90

export const metricSchema = object({
  id: idSchema.required(),
  name: string().trim().max(100, 'The name is longer than 100 characters.').required('Give the metric a name.'),
  kind: string()
    .oneOf(['conversion', 'mean', 'ratio'] as const)
    .required(),
  source: metricSourceSchema,
  /** Of a ratio; null for other kinds. */
  denominator: lazy((source: { type?: unknown } | null | undefined) =>
    source ? metricSourceOf(source) : mixed<MetricSource>().nullable().default(null),
  ),
  /** Most that a visitor's sum counts as. */
  cap: number()
    .typeError('Type the most that a visitor counts as, or nothing.')
    .moreThan(0, 'The most that a visitor counts as lies above 0.')
    .nullable()
    .default(null),
  /** Days after the first exposure for which a visitor is measured, and after which they count. */
  windowDays: number()
    .typeError('Type for how many days a visitor is measured, or nothing.')
    .integer('Type whole days.')
    .min(1, 'A visitor is measured for a day at least.')
    .max(MOST_WINDOW_DAYS, `A visitor is measured for at most ${MOST_WINDOW_DAYS} days.`)
    .nullable()
    .default(null),
  direction: string()
    .oneOf(['up', 'down'] as const)
    .required(),
  role: string()
    .oneOf(['primary', 'secondary', 'guardrail'] as const)
    .default('primary'),
  /** Relative change to the worse that a guardrail may not exceed. */
  limit: number()
    .typeError('Type the limit in percent.')
    .moreThan(0, 'The limit lies above 0 %.')
    .lessThan(1, 'The limit lies below 100 %.')
    .nullable()
    .default(null)
    .when('role', { is: 'guardrail', then: (schema) => schema.required('Type the limit in percent.') }),
}).test('denominator', (metric, context) =>
  metric.kind !== 'ratio' || metric.denominator
    ? true
    : context.createError({ path: `${context.path}.denominator`, message: 'Choose what it is divided by.' }),
)
export const metricsSchema = array(metricSchema.required())
  .max(MOST_METRICS, `At most ${MOST_METRICS} metrics.`)
  .test(
    'primary',
    'At most one metric is the primary one, and it comes first.',
    (metrics) => !metrics?.slice(1).some(({ role }) => role === 'primary'),
  )

/** A metric that joins a started experiment: it explains, and cannot decide any more. */
export const addedMetricSchema = object({
  version: number().integer().required('Say which version was read.'),
  metric: metricSchema.required(),
}).test(
  'secondary',
  'A metric that is added after the start is a secondary one.',
  ({ metric }) => metric?.role === 'secondary',
)
