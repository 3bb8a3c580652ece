import { STRENGTHS } from '../../core/hypotheses/pastLifts'
import { rangeProblem } from '../../core/hypotheses/pert'
import { metricField, readPage, readSegment } from '../evidence/filter'
import { array, mixed, number, object, string, type InferType } from '../yup'

export const STAGES = ['new', 'worth testing', 'in test', 'learned', 'set aside'] as const
export type Stage = (typeof STAGES)[number]
export const MOST_CRITERIA = 5
const MOST_FINDINGS = 30
const MOST_TAGS = 12
/** Scores of a team's own. */
export const HIGHEST_SCORE = 10

const nothingForEmpty = (value: unknown, original: unknown) => (original === '' || original === null ? null : value)
const wholeId = () => number().integer().min(1).max(2_147_483_647)
/** A part of 1: 0.05 for a twentieth more. */
const lift = (which: string) =>
  number()
    .transform(nothingForEmpty)
    .typeError(`Type the ${which} lift in percent, such as 5.`)
    .min(-1, `The ${which} lift is −100 % at least.`)
    .max(10, `The ${which} lift is 1,000 % at most.`)
    .nullable()
    .default(null)

interface Lifts {
  low: number | null
  likely: number | null
  high: number | null
}

/** Three lifts, or none of them. */
function liftsProblem({ low, likely, high }: Lifts): { path: keyof Lifts; message: string } | null {
  const given = [low, likely, high].filter((each) => each !== null && each !== undefined)
  // What is no number is told at its field.
  if (given.length === 0 || given.some(Number.isNaN)) return null
  if (given.length < 3) {
    const path = low === null ? 'low' : likely === null ? 'likely' : 'high'
    return { path, message: 'Give a low, a likely and a high lift.' }
  }
  const message = rangeProblem({ low: low!, likely: likely!, high: high! })
  return message ? { path: low! > high! ? 'low' : 'likely', message } : null
}
const IN_ORDER = ['lifts', 'The lifts are not in order.', liftsInOrder] as const
function liftsInOrder(
  value: unknown,
  context: { path: string; createError: (problem: { path: string; message: string }) => unknown },
): true {
  const problem = liftsProblem(value as Lifts)
  if (!problem) return true
  const path = context.path ? `${context.path}.${problem.path}` : problem.path
  return context.createError({ path, message: problem.message }) as true
}

/** Whom it is about and what it is measured by, and what is expected. */
const expectedFields = {
  pages: string()
    .max(600, 'The address is longer than 600 characters.')
    .test('pages', 'Write pages as is:/book, begins:/crossings/ or contains:torrin.', (value) => {
      return typeof value !== 'string' || readPage(value) !== null
    })
    .nullable()
    .default(null),
  audience: string()
    .max(1000, 'The audience is longer than 1,000 characters.')
    .test('audience', 'There is no such audience.', (value) => typeof value !== 'string' || readSegment(value) !== null)
    .nullable()
    .default(null),
  metric: metricField.nullable().default(null),
  direction: string()
    .oneOf(['up', 'down'] as const, 'Choose whether it is to rise or to fall.')
    .default('up'),

  low: lift('low'),
  likely: lift('likely'),
  high: lift('high'),
  effortDays: number()
    .transform(nothingForEmpty)
    .typeError('Type the effort in days, such as 2.5.')
    .min(0, 'The effort is zero days or more.')
    .max(1000, 'The effort is at most 1,000 days.')
    .nullable()
    .default(null),
  strength: string().oneOf(STRENGTHS, 'Choose weak, fair or strong.').default('fair'),
}
export const expectationSchema = object(expectedFields).test(...IN_ORDER)

const hypothesisFields = {
  title: string()
    .trim()
    .max(160, 'The title is longer than 160 characters.')
    .required('Say in a line what it is about.'),
  change: string().trim().max(2000, 'The change is longer than 2,000 characters.').default(''),
  reason: string().trim().max(2000, 'The reason is longer than 2,000 characters.').default(''),
  statement: string().trim().max(5000, 'The statement is longer than 5,000 characters.').nullable().default(null),
  ...expectedFields,
  tags: array(string().trim().lowercase().max(40, 'A tag has at most 40 characters.').required())
    .max(MOST_TAGS, `At most ${MOST_TAGS} tags.`)
    .default([]),
  findings: array(wholeId().required()).max(MOST_FINDINGS, `At most ${MOST_FINDINGS} findings.`).default([]),
  owner: wholeId().nullable().default(null),
  scores: mixed<Record<string, number>>((value): value is Record<string, number> => isScores(value))
    .typeError(`Scores are numbers from 0 to ${HIGHEST_SCORE}.`)
    .default({}),
}
function isScores(value: unknown): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.keys(value).length <= MOST_CRITERIA * 4 &&
    Object.entries(value).every(
      ([key, score]) => key.length <= 40 && typeof score === 'number' && score >= 0 && score <= HIGHEST_SCORE,
    )
  )
}

export const hypothesisSchema = object(hypothesisFields).test(...IN_ORDER)
export const hypothesisChangeSchema = object({
  ...hypothesisFields,
  version: number().integer().min(1).required('Say which version was changed.'),
}).test(...IN_ORDER)
export type HypothesisInput = InferType<typeof hypothesisSchema>

export const stageSchema = object({
  stage: string().oneOf(STAGES, 'There is no such stage.').required('Choose a stage.'),
  reason: string().trim().max(1000, 'The reason is longer than 1,000 characters.').nullable().default(null),
})
export const handPlaceSchema = object({
  /** Its place in the list; null gives it back to the ranking. */
  place: number().integer().min(1).max(100_000).nullable().defined(),
  reason: string()
    .trim()
    .max(500, 'The reason is longer than 500 characters.')
    .nullable()
    .default(null)
    .when('place', {
      is: (place: unknown) => place !== null,
      then: (schema) => schema.required('Say why it belongs there.'),
    }),
})
export const similarQuery = object({
  text: string().trim().max(1000, 'Ask with at most 1,000 characters.').required('Say what is looked for.'),
  /** A hypothesis that is not to be found itself. */
  except: wholeId(),
})
export const threadQuery = object({
  finding: wholeId(),
  hypothesis: wholeId(),
  experiment: wholeId(),
  rollout: wholeId(),
}).test(
  'one',
  'Ask for one finding, hypothesis, experiment or rollout.',
  (of) => Object.values(of).filter(Boolean).length === 1,
)
export const commentSchema = object({
  words: string().trim().max(5000, 'The comment is longer than 5,000 characters.').required('Say something.'),
})

const amountOf = (what: string, most: number) =>
  number()
    .typeError(`Type ${what} as a number.`)
    .min(0, `${what[0]!.toUpperCase()}${what.slice(1)} is zero or more.`)
    .max(most, `${what[0]!.toUpperCase()}${what.slice(1)} is at most ${most.toLocaleString('en-US')}.`)
const limit = number()
  .transform(nothingForEmpty)
  .typeError('Type a limit as a whole number, or leave it empty.')
  .integer('Type a limit as a whole number.')
  .min(1, 'A limit is at least 1.')
  .max(1000, 'A limit is at most 1,000.')
  .nullable()
  .default(null)
export const rankingTermsSchema = object({
  dayCost: amountOf('the cost of a day', 1e7).required('Type what a day of effort costs.'),
  paybackMonths: amountOf('the payback', 120).moreThan(0, 'The payback is above zero.').required('Type the months.'),
  /** Longer tests are said to be out of reach. */
  longestWeeks: number()
    .typeError('Type the weeks as a whole number.')
    .integer('Type the weeks as a whole number.')
    .min(1, 'A test takes at least a week.')
    .max(26, 'A test takes at most 26 weeks.')
    .required('Type the longest test in weeks.'),
  rankBy: string()
    .oneOf(['worth', 'score'] as const, 'Rank by worth or by score.')
    .default('worth'),
  criteria: array(
    object({
      id: string()
        .matches(/^[\w-]{1,40}$/, 'A criterion has an id.')
        .required(),
      name: string().trim().max(40, 'A name has at most 40 characters.').required('Name the criterion.'),
      weight: amountOf('the weight', 100).moreThan(0, 'The weight is above zero.').required('Type its weight.'),
    }).required(),
  )
    .max(MOST_CRITERIA, `At most ${MOST_CRITERIA} criteria.`)
    .default([]),
  /** What a unit of a metric is worth, by its id, where nothing computed says so. */
  unitValues: mixed<Record<string, number>>(
    (value): value is Record<string, number> =>
      typeof value === 'object' &&
      value !== null &&
      !Array.isArray(value) &&
      Object.entries(value).every(
        ([key, each]) => key.length <= 40 && typeof each === 'number' && each >= 0 && each < 1e9,
      ),
  )
    .typeError('Values are numbers from zero on.')
    .default({}),
  /** Most hypotheses in a stage at a time. */
  limits: object({ 'worth testing': limit, 'in test': limit }).default({ 'worth testing': null, 'in test': null }),
})
export type RankingTerms = InferType<typeof rankingTermsSchema>
export const DEFAULT_TERMS: RankingTerms = {
  dayCost: 500,
  paybackMonths: 6,
  longestWeeks: 8,
  rankBy: 'worth',
  criteria: [],
  unitValues: {},
  limits: { 'worth testing': null, 'in test': null },
}
