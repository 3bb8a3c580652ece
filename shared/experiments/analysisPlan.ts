import { SPLITS } from '../../core/sheet/content'
import { DECISION_RULES } from '../../core/verdict/verdict'
import { array, lazy, number, object, string, type InferType } from '../yup'

/** More arms than anybody compares: a list this long is a mistake. */
const MOST_ARMS = 100

const column = (what: string) => string().strict().typeError(`Name the ${what} as text.`).required(`Name the ${what}.`)
const share = (message: string) => number().strict().typeError(message).moreThan(0, message).lessThan(1, message)
const positive = (message: string) => number().strict().typeError(message).moreThan(0, message)

const metricBase = {
  name: string().strict().typeError('Give the metric a name, as text.').required('Give the metric a name.'),
  role: string().oneOf(
    ['primary', 'secondary', 'guardrail'] as const,
    'The role is "primary", "secondary" or "guardrail".',
  ),
  direction: string().oneOf(
    ['up', 'down'] as const,
    'The direction is "up" or "down": whether more or less is better.',
  ),
  covariate: column('column of the covariate').optional().default(undefined),
  /** Relative change to the worse that a guardrail may not exceed. */
  limit: share('The limit of a guardrail lies between 0 and 1, such as 0.02 for 2 %.'),
  /** What rehearsals take as the control's rate or mean, and the standard deviation of one visitor's value. */
  baseline: number().strict().typeError('The baseline is a number.'),
  deviation: positive('The standard deviation is a number above 0.'),
}

const winsorizeQuantile = number()
  .strict()
  .typeError('Winsorize at a quantile, such as 0.99.')
  .moreThan(0, 'The quantile to winsorize at lies above 0.')
  .max(1, 'The quantile to winsorize at is at most 1.')
const winsorize = lazy((value: unknown) =>
  typeof value === 'object' && value !== null
    ? object({
        quantile: winsorizeQuantile.required('Winsorize at a quantile, such as 0.99.'),
        of: string()
          .oneOf(['above zero', 'all'] as const, 'The quantile is taken of the values "above zero" or of "all".')
          .required('Say whether the quantile is taken of the values "above zero" or of "all".'),
      })
    : winsorizeQuantile,
)

const metricSchema = lazy((metric: { kind?: unknown } | undefined) => {
  switch (metric?.kind) {
    case 'conversion':
      return object({
        ...metricBase,
        kind: string()
          .oneOf(['conversion'] as const)
          .required(),
        column: column('column of the metric'),
      })
    case 'mean':
      return object({
        ...metricBase,
        kind: string()
          .oneOf(['mean'] as const)
          .required(),
        column: column('column of the metric'),
        winsorize,
      })
    case 'ratio':
      return object({
        ...metricBase,
        kind: string()
          .oneOf(['ratio'] as const)
          .required(),
        numerator: column('column of the numerator'),
        denominator: column('column of the denominator'),
      })
    default:
      return object({
        kind: string()
          .oneOf(['conversion', 'mean', 'ratio'] as const, 'The kind is "conversion", "mean" or "ratio".')
          .required('Say whether the metric is a "conversion", a "mean" or a "ratio".'),
      })
  }
})

/** How a plan decides, for rehearsals; each has a default. */
export const decisionSchema = object({
  smallestLift: positive('The smallest worthwhile lift is above 0, such as 0.05 for 5 %.'),
  rule: string().oneOf(DECISION_RULES, 'The rule is "spending", "sequential", "fixed" or "low-risk".'),
  lossLimit: share('The accepted loss lies between 0 and 1.'),
  leastWeeks: positive('The least run is a whole number of weeks.').integer(
    'The least run is a whole number of weeks.',
  ),
  split: string().oneOf(SPLITS, 'The split is "set" or "moving".'),
  leastShare: share('The least share of each arm lies between 0 and 1.'),
  batchVisitors: positive('A split moves after a whole number of visitors.').integer(
    'A split moves after a whole number of visitors.',
  ),
  longestWeeks: positive('The longest run is a whole number of weeks.')
    .integer('The longest run is a whole number of weeks.')
    .max(520, 'The longest run is at most 520 weeks.'),
})

/** The document that `./vetch analyze` and `./vetch rehearse` go by. */
export const analysisPlanSchema = object({
  control: string().strict().typeError('Name the control, as text.').required('Name the arm that is the control.'),
  weights: lazy((weights: unknown) =>
    object(
      Object.fromEntries(
        Object.keys(typeof weights === 'object' && weights !== null ? weights : {}).map((arm) => [
          arm,
          positive(`The weight of "${arm}" must be a number above 0.`).required(),
        ]),
      ),
    )
      .typeError('Give the weights as an object, such as { "control": 1, "b": 1 }.')
      .required('Give the weights of the arms, such as { "control": 1, "b": 1 }.')
      .test(
        'arms',
        'There must be a control and at least one other arm.',
        (value) => Object.keys(value ?? {}).length >= 2,
      )
      .test('most', `There are at most ${MOST_ARMS} arms.`, (value) => Object.keys(value ?? {}).length <= MOST_ARMS),
  ),
  alpha: share('Alpha lies between 0 and 1.'),
  plannedVisitors: positive('The planned visitors are a whole number above 0.')
    .integer('The planned visitors are a whole number above 0.')
    .optional()
    .default(undefined),
  metrics: array(metricSchema)
    .typeError('Give the metrics as a list.')
    .min(1, 'Name at least one metric.')
    .required('Name at least one metric.'),
  segments: array(column('column of the segment'))
    .typeError('Give the segments as a list of columns.')
    .nullable()
    .default(null),
  factors: lazy((factors: unknown) =>
    factors === null || factors === undefined
      ? object().nullable().default(null)
      : object(
          Object.fromEntries(
            Object.keys(factors).map((factor) => [
              factor,
              array(string().strict().typeError('A level is text.').required('A level is text.'))
                .typeError(`List the levels of "${factor}".`)
                .min(2, `The factor "${factor}" needs two levels or more.`)
                .required(),
            ]),
          ),
        ).typeError('Give the factors as an object of levels, such as { "headline": ["plain", "warm"] }.'),
  ),
  decision: decisionSchema.optional().default(undefined),
  liftPrior: object({
    mean: number().strict().required('Give the mean of the prior.'),
    deviation: positive('The deviation of the prior is above 0.').required('Give the deviation of the prior.'),
  })
    .optional()
    .default(undefined),
})

type Winsorize = number | { quantile: number; of: 'above zero' | 'all' }
type MetricBase = {
  name: string
  role?: 'primary' | 'secondary' | 'guardrail'
  direction?: 'up' | 'down'
  covariate?: string
  limit?: number
  baseline?: number
  deviation?: number
}
export type PlannedMetricInput = MetricBase &
  (
    | { kind: 'conversion'; column: string }
    | { kind: 'mean'; column: string; winsorize?: Winsorize }
    | { kind: 'ratio'; numerator: string; denominator: string }
  )

/** A plan that has passed the schema. */
export interface AnalysisPlan {
  control: string
  weights: Record<string, number>
  alpha: number
  plannedVisitors?: number
  metrics: PlannedMetricInput[]
  segments: string[] | null
  factors: Record<string, string[]> | null
  decision?: InferType<typeof decisionSchema>
  liftPrior?: { mean: number; deviation: number }
}
