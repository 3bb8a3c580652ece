import { VISITOR_ID } from '../intake/browserIds'
import { array, lazy, mixed, number, object, string } from '../yup'
import { audienceSchema } from '../audiences/condition'
import { termsSchema } from './terms'
import { editSchema } from '../edits/edit'
import { pageRuleSchema } from '../audiences/pageRule'
import { pageSchema, type Paged } from '../api/paging'
import { isOwnPath, OWN_PATH } from '../delivery/ownPath'
import { countedSelectorSchema, selectorSchema } from '../edits/selector'
import type { VariantComparison } from '../../core/analysis/analysis'
import { combinationCount } from '../../core/factors/combinations'
import { MOST_FACTORS } from '../../core/factors/kindOfTest'
import { DETAIL_COMPARISONS, type DetailTest } from '../../core/measurement/eventDetails'
import type { MetricSource, OrderReference } from '../../core/measurement/metric'
import type { PageRule } from '../../core/targeting/pageRule'
import { MOST_COMBINATIONS_ON } from '../../core/preflight/factorFindings'
import type { PreflightFinding } from '../../core/preflight/preflight'
import type { Decision, SheetContent, SheetMetric } from '../../core/sheet/content'
import type { Forecast } from '../../core/sheet/planReading'
import type { AllocationCheck } from '../../core/statistics/allocation'
import type { LiftEstimate } from '../../core/statistics/compareArms'
import type { FactorialReading } from '../../core/statistics/factorial'
import type { Heterogeneity } from '../../core/statistics/heterogeneity'
import type { SoundnessFinding } from '../../core/statistics/soundness'
import type { ReachedVerdict } from '../../core/verdict/reachedVerdict'
import type { Verdict } from '../../core/verdict/verdict'

export const MOST_VARIANTS = MOST_COMBINATIONS_ON
export const MOST_EDITS = 100
export const MOST_LEVELS = 5
/** Of all levels, on and off. */
export const MOST_COMBINATIONS = 64
export const MOST_METRICS = 20

/** Of a thing on a sheet: drawn where it is made, and kept. */
const idSchema = string()
  .strict()
  .typeError('A thing on a sheet has an id of 6 to 40 letters and digits.')
  .matches(/^[\w-]{6,40}$/, 'A thing on a sheet has an id of 6 to 40 letters and digits.')

export const sheetPageRuleSchema = pageRuleSchema.shape({ id: idSchema.required() })

export const variantSchema = object({
  id: idSchema.required(),
  name: string().trim().max(60, 'The name is longer than 60 characters.').required('Give the variant a name.'),
  weight: number()
    .integer('Use a whole number for the weight.')
    .min(0, 'A weight cannot be negative.')
    .max(10_000, 'A weight is at most 10,000.')
    .required('Give the variant a weight.')
    .typeError('Give the variant a weight.'),
  edits: array(editSchema).max(MOST_EDITS, `A variant holds at most ${MOST_EDITS} edits.`).required(),
  /** Of a multivariate test: what it combines. */
  levels: array(idSchema.required()).nullable().default(undefined),
})

const nameOfPart = (what: string) =>
  string().trim().max(60, 'The name is longer than 60 characters.').required(`Give the ${what} a name.`)

export const levelSchema = object({
  id: idSchema.required(),
  name: nameOfPart('level'),
  edits: array(editSchema).max(MOST_EDITS, `A level holds at most ${MOST_EDITS} edits.`).required(),
})

export const factorSchema = object({
  id: idSchema.required(),
  name: nameOfPart('factor'),
  levels: array(levelSchema.required())
    .min(1, 'A factor has the page as it is for its first level.')
    .max(MOST_LEVELS, `A factor has at most ${MOST_LEVELS} levels.`)
    .required('List the levels of the factor.'),
})

export const combinationOffSchema = object({ id: idSchema.required() })

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

/** Events are kept for a year at most; nobody waits longer for a test. */
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
const metricsSchema = array(metricSchema.required())
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

const weeks = (label: string) =>
  number()
    .typeError(`Type the ${label} in whole weeks.`)
    .integer(`Type the ${label} in whole weeks.`)
    .min(1, `The ${label} is one week or more.`)
    .max(52, `The ${label} is at most 52 weeks.`)
    .required(`Type the ${label} in whole weeks.`)
const share = (message: string) =>
  number().typeError(message).moreThan(0, message).lessThan(1, message).required(message)

/** An empty field of a number that may be missing. */
const nothingForEmpty = (value: number, original: unknown) => (original === '' ? null : value)

export const planSchema = object({
  smallestLift: number()
    .typeError('Type the smallest worthwhile lift in percent.')
    .moreThan(0, 'The smallest worthwhile lift is above 0 %.')
    .max(10, 'The smallest worthwhile lift is at most 1,000 %.')
    .required('Type the smallest worthwhile lift in percent.'),
  /** null: as it was in the last four weeks. */
  baseline: number()
    .transform(nothingForEmpty)
    .typeError('The expected rate lies between 0 % and 100 %.')
    .moreThan(0, 'The expected rate lies between 0 % and 100 %.')
    .lessThan(1, 'The expected rate lies between 0 % and 100 %.')
    .nullable()
    .default(null),
  mean: number()
    .transform(nothingForEmpty)
    .typeError('Type the expected mean as a number.')
    .notOneOf([0], 'The expected mean is not 0.')
    .nullable(),
  deviation: number()
    .transform(nothingForEmpty)
    .typeError('Type the standard deviation as a number.')
    .moreThan(0, 'The standard deviation is above 0.')
    .nullable(),
  alpha: share('The error level lies between 0 and 1.'),
  rule: string()
    .oneOf(['sequential', 'fixed', 'low-risk'] as const)
    .required(),
  lossLimit: share('The accepted loss lies between 0 % and 100 %.'),
  guardrailRule: string()
    .oneOf(['unharmed', 'safe'] as const)
    .default(undefined),
  leastWeeks: weeks('least run'),
  longestWeeks: weeks('longest run'),
  /** null: computed from the traffic. */
  plannedVisitors: number()
    .transform(nothingForEmpty)
    .typeError('Type the planned visitors as a whole number.')
    .integer('Type the planned visitors as a whole number.')
    .min(2, 'Plan for at least two visitors.')
    .max(1e9, 'Plan for at most 1,000,000,000 visitors.')
    .nullable()
    .default(null),
})

const nameSchema = string().trim().max(120, 'The name is longer than 120 characters.')

export const newExperimentSchema = object({ name: nameSchema.required('Give the experiment a name.') })

/** What experiments can be sorted by. */
export const EXPERIMENT_SORTS = ['name', 'state', 'started', 'visitors', 'lift'] as const

/** Which experiments a list shows, in which order, and which page of it. */
export const experimentListSchema = pageSchema.shape({
  state: string().oneOf(['draft', 'running', 'paused', 'ended'] as const, 'There is no such state.'),
  /** Part of a name or an address. */
  search: string().trim().max(100, 'Search for at most 100 characters.'),
  /** What it is sorted by; with a minus before it the largest first. The latest first where left out. */
  sort: string().oneOf(
    EXPERIMENT_SORTS.flatMap((name) => [name, `-${name}`] as const),
    'It cannot be sorted by that.',
  ),
})
export type ExperimentSort = (typeof EXPERIMENT_SORTS)[number]

const timeSchema = (what: string) =>
  string()
    .matches(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, `Say at which day and time it ${what}.`)
    .nullable()
    .default(null)

/** When an experiment starts and ends by itself, by the clock of the site: 2026-11-30T08:00; null for by hand. */
export const scheduleSchema = object({ start: timeSchema('starts'), end: timeSchema('ends') })

/** The schedule of an experiment, in moments. */
export interface Schedule {
  start: string | null
  end: string | null
  /** Why it did not start when it was to; null where nothing went wrong. */
  problem: string | null
}

/** Where the ramp of a running experiment stands; null where there is none, or where it is done. */
export interface RampView {
  /** Which of the steps, from 0 on, and when the next one is due. */
  step: number
  until: string
  /** The share after the last step, of 10,000. */
  final: number
  /** Why the next step was not taken; null where nothing speaks against it. */
  problem: string | null
}

/** The version that was read. */
export const readVersionSchema = object({ version: number().integer() })

/** What is decided at the end: the variant to keep, and why. */
export const decisionSchema = object({
  variant: string().trim().max(40, 'Choose one of the variants.').nullable().default(null),
  reason: string().trim().max(2000, 'The reason is longer than 2,000 characters.').default(''),
})

/** Everything that people write on a sheet. */
export const sheetContentSchema = object({
  name: nameSchema.required('Give the experiment a name.'),
  hypothesis: string().max(5000, 'The hypothesis is longer than 5,000 characters.').defined(),
  pageRules: array(sheetPageRuleSchema.required()).max(20, 'At most 20 addresses.').defined(),
  audience: audienceSchema,
  share: number()
    .typeError('Type the traffic share in percent.')
    .integer('The traffic share has at most two decimals.')
    .min(0, 'The traffic share is at least 0 %.')
    .max(10_000, 'The traffic share is at most 100 %.')
    .required('Type the traffic share in percent.'),
  terms: termsSchema,
  factors: array(factorSchema.required())
    .max(MOST_FACTORS, `At most ${MOST_FACTORS} factors.`)
    .test(
      'combinations',
      `The levels make more than ${MOST_COMBINATIONS} combinations. Remove a level or a factor.`,
      (factors) => combinationCount((factors ?? []) as { levels: unknown[] }[]) <= MOST_COMBINATIONS,
    )
    .test('level-ids', 'Two levels have the same id.', (factors) => {
      const ids = (factors ?? []).flatMap(({ levels }) => (levels ?? []).map(({ id }) => id))
      return new Set(ids).size === ids.length
    })
    .default([]),
  combinationsOff: array(combinationOffSchema.required())
    .max(1000, 'At most 1,000 combinations are switched off.')
    .default([]),
  variants: array(variantSchema.required())
    .min(1, 'The control cannot be removed.')
    .max(MOST_VARIANTS, `At most ${MOST_VARIANTS} variants.`)
    .defined(),
  metrics: metricsSchema.defined(),
  plan: planSchema,
})

export interface MetricView extends SheetMetric {
  /** Which definition of it is used. */
  versionId: number
  denominator: MetricSource | null
  cap: number | null
  windowDays: number | null
}

export type ExperimentState = 'draft' | 'running' | 'paused' | 'ended'
/** Everything a sheet shows of an experiment, but for its results. */
export interface ExperimentSheet extends SheetContent {
  id: number
  siteId: number
  /** Currency of amounts on the site, such as EUR. */
  currency: string
  /** Reporting time zone of the site. */
  timeZone: string
  /** Whether variants may bring scripts of their own, by the site's settings. */
  allowsScripts: boolean
  state: ExperimentState
  schedule: Schedule
  ramp: RampView | null
  /** Counts up with every change. */
  version: number
  metrics: MetricView[]
  createdAt: string
  startedAt: string | null
  endedAt: string | null
  /** Of an ended experiment, where somebody said. */
  decision: Decision | null
  /** What keeps it from starting; empty for all but drafts. */
  preflight: PreflightFinding[]
}

/** What people write on a sheet, without what follows from it. */
export function contentOf(sheet: ExperimentSheet): SheetContent {
  const { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics, plan } =
    sheet
  const own = metrics.map(({ versionId: _, ...metric }) => metric)
  return { name, hypothesis, pageRules, audience, share, terms, factors, combinationsOff, variants, metrics: own, plan }
}

/** What can only be known by looking: at the traffic of the last four weeks, at the pages, and at what runs beside. */
export interface PreflightReport {
  /** Of the sheet that was looked at. */
  version: number
  forecast: Forecast
  /** The most visited pages of the sheet, which the edits were tried on. */
  pages: string[]
  findings: PreflightFinding[]
}

/** One arm of one metric. */
export interface ArmView {
  visitors: number
  /** Conversions, the sum of amounts, or of a ratio the sum of the numerator. */
  sum: number
  /** Of a ratio. */
  denominator: number
  mean: number | null
  /** Of one visitor's value. */
  variance: number | null
}

/** What one metric says. */
export interface MetricResults {
  metric: MetricView
  /** In the order of the variants, the control first. */
  arms: ArmView[]
  /** One a variant, in the order of the arms after the control. */
  comparisons: VariantComparison[]
  probabilityBest: (number | null)[]
  /** Visitors with an earlier visit, whose past the variance reduction uses. */
  withPast: number
  /** Of a multivariate test: what each factor does, for one look. */
  factorial: FactorialReading | null
}

/** What happened, as of the last fold. */
export interface ExperimentResults {
  /** Names and visitors, the control first. */
  arms: { name: string; visitors: number }[]
  visitors: number
  /** Visitors who were seen in more than one variant. */
  crossed: number
  daysRun: number
  allocation: AllocationCheck | null
  /** In the order of the sheet, the primary one first. */
  metrics: MetricResults[]
  /** Reasons not to trust the data, or to look closer. */
  soundness: SoundnessFinding[]
  /** What to go by. */
  verdict: Verdict | null
  /** The first verdict that ended the question, with the numbers that it was reached by. */
  reached: ReachedVerdict | null
  /** What the numbers of now say, where that is something else. */
  since: Verdict | null
  foldedAt: string | null
}

/** A row of the list of experiments. */
export interface ExperimentSummary {
  id: number
  name: string
  state: ExperimentState
  pages: string
  startedAt: string | null
  endedAt: string | null
  visitors: number
  verdict: Verdict | null
  smallestLift: number
  /** The longest run, in weeks. */
  longestWeeks: number
  best: { variant: string; position: number; lift: number | null; interval: [number, number] | null } | null
}

export interface ChangeView {
  id: number
  at: string
  person: string | null
  action: string
  /** What a change of the sheet did, with old and new. */
  words: string | null
  /** Whether the sheet can be made again what it was after it. */
  mayRestore: boolean
  before: Record<string, unknown> | null
  after: Record<string, unknown> | null
}

/** One look at one comparison, the last of its day. */
export interface LookView {
  metricVersionId: number
  /** Position of the variant that is compared with the control. */
  variant: number
  day: string
  visitors: [control: number, variant: number]
  means: [control: number | null, variant: number | null]
  lift: number | null
  /** Always valid. */
  interval: [number, number] | null
  pValue: number | null
  /** Smallest over all looks so far. */
  fixedInterval: [number, number] | null
  fixedPValue: number | null
}

/** The visitors of one day, by the day of their first exposure. */
export interface DayView {
  day: string
  /** Of each arm, the control first. */
  visitors: number[]
  /** In the order of the sheet. */
  metrics: {
    metricVersionId: number
    arms: ArmView[]
    /** Of each variant, for one look at the visitors of this day alone. */
    lifts: LiftEstimate[]
  }[]
}

/** What happened within each value of one segment. */
export interface SegmentView {
  dimension: string
  /** In the order of the sheet. */
  metrics: {
    metricVersionId: number
    /** One a variant, in the order of the arms after the control. */
    comparisons: { readings: SegmentReadingView[]; heterogeneity: Heterogeneity }[]
  }[]
}

export interface SegmentReadingView {
  /** null: all other values together. */
  value: string | null
  /** In the control and the variant together. */
  visitors: number
  controlMean: number | null
  mean: number | null
  /** For one look. */
  lift: LiftEstimate
  pValue: number | null
  /** Corrected over all values of all segments. */
  adjustedPValue: number | null
}

/** Who is left out of an experiment's numbers, by whom, and why. */
export interface ExclusionView {
  id: number
  kind: 'visitor' | 'team' | 'span'
  visitor: string | null
  from: string | null
  until: string | null
  reason: string
  person: string | null
  at: string
}

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
    .oneOf(['visitor', 'team', 'span'] as const, 'Leave out a visitor, the team’s own networks, or a span of time.')
    .required('Say who is left out.'),
  visitor: string()
    .trim()
    .matches(VISITOR_ID, 'Type the visitor’s id as it stands in their cookie.')
    .when('kind', { is: 'visitor', then: (schema) => schema.required('Type the visitor’s id.') }),
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

/** Longest time that a link to a preview holds, in days. */
export const MOST_PREVIEW_DAYS = 30

export const previewSchema = object({
  variant: idSchema.required(),
  path: string().trim().test('own-path', OWN_PATH, isOwnPath).max(1000).required('Say which page the link opens.'),
  days: number()
    .typeError('Say for how many days.')
    .integer('Say for how many whole days.')
    .min(1, 'A link holds for at least a day.')
    .max(MOST_PREVIEW_DAYS, `A link holds for at most ${MOST_PREVIEW_DAYS} days.`)
    .required('Say for how many days.'),
})

/** A link that shows a variant to whoever has it. */
export interface PreviewView {
  id: number
  variant: string
  path: string
  link: string
  person: string | null
  createdAt: string
  expiresAt: string
}

export interface PointingSession {
  token: string
  /** Address to open in the frame, with the token in its fragment. */
  address: string
  /** Path on Vetch of a copy of the page, for pages without the script line. */
  copy: string
  expiresAt: string
}

/** Of a tab in which a variant is open to be changed. */
export const presenceSchema = object({ variant: idSchema.required(), tab: idSchema.required() })

export const pointingSchema = object({
  path: string().trim().test('own-path', OWN_PATH, isOwnPath).max(1000).required(),
})

export type { Paged }
