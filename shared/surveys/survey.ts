import { array, boolean, number, object, string, type InferType } from '../yup'
import { END, MOMENTS, QUESTION_KINDS, unreachable, type Moment, type Question } from '../../core/survey/survey'
import type { Group } from '../../core/targeting/condition'
import type { PageRule } from '../../core/targeting/pageRule'
import { audienceSchema } from '../audiences/condition'
import { somewhereFields } from '../collection/collection'

export const MOST_QUESTIONS = 5
export const MOST_CHOICES = 12
export const SURVEY_STATES = ['draft', 'running', 'ended'] as const
export type SurveyState = (typeof SURVEY_STATES)[number]

const idField = () =>
  string()
    .matches(/^[a-z0-9]{1,20}$/, 'An id is of small letters and digits.')
    .required()

const branchSchema = object({
  choice: string().max(20).nullable().default(null),
  low: number().integer().nullable().default(null),
  high: number().integer().nullable().default(null),
  next: string().max(20).required('Say where the answer leads.'),
})

const questionSchema = object({
  id: idField(),
  kind: string().oneOf(QUESTION_KINDS, 'Choose the kind of the question.').required('Choose the kind of the question.'),
  words: string().trim().max(200, 'The question is longer than 200 characters.').required('Write the question.'),
  isOptional: boolean().default(false),
  choices: array(
    object({
      id: idField(),
      words: string().trim().max(120, 'The choice is longer than 120 characters.').required('Write the choice.'),
    }).required(),
  )
    .max(MOST_CHOICES, `A question has at most ${MOST_CHOICES} choices.`)
    .default([])
    .when('kind', ([kind]: unknown[], schema) =>
      kind === 'one' || kind === 'several' ? schema.min(2, 'Give at least two choices.') : schema,
    ),
  scale: object({
    low: number().oneOf([0, 1], 'The scale begins with 0 or 1.').required(),
    high: number()
      .integer('The scale ends with a whole number.')
      .min(2, 'The scale ends with 2 at least.')
      .max(10, 'The scale ends with 10 at most.')
      .required('Say where the scale ends.'),
    lowWords: string().trim().max(40, 'The words are longer than 40 characters.').default(''),
    highWords: string().trim().max(40, 'The words are longer than 40 characters.').default(''),
  })
    .nullable()
    .default(null)
    .when('kind', ([kind]: unknown[], schema) =>
      kind === 'scale' ? schema.required('Say from where to where the scale goes.') : schema,
    ),
  branches: array(branchSchema.required()).max(MOST_CHOICES).default([]),
})

const buttonWords = () =>
  string().trim().max(30, 'At most 30 characters fit on a button.').required('Write what stands on the button.')

const momentSchema = object({
  kind: string().oneOf(MOMENTS, 'Choose when it is shown.').required('Choose when it is shown.'),
  seconds: number()
    .typeError('Type the seconds as a number.')
    .min(0, 'At least 0 seconds.')
    .max(3600, 'At most an hour.')
    .when('kind', ([kind]: unknown[], schema) => (kind === 'seconds' ? schema.required('Type the seconds.') : schema)),
  percent: number()
    .typeError('Type the share of the page as a number.')
    .min(1, 'At least 1 %.')
    .max(100, 'At most 100 %.')
    .when('kind', ([kind]: unknown[], schema) => (kind === 'depth' ? schema.required('Type how far down.') : schema)),
  name: string()
    .trim()
    .max(100, 'The name is longer than 100 characters.')
    .when('kind', ([kind]: unknown[], schema) => (kind === 'event' ? schema.required('Name the event.') : schema)),
})

const questionsField = array(questionSchema.required())
  .min(1, 'A survey has at least one question.')
  .max(MOST_QUESTIONS, `A survey has at most ${MOST_QUESTIONS} questions.`)
  .required('Write a question.')
  .test('ids', 'Two questions or choices have the same id.', (questions) => haveOwnIds(questions ?? []))
  .test('branches', function (questions) {
    const wrong = (questions ?? []).findIndex((each, place) => !leadsOn(each, (questions ?? []).slice(place + 1)))
    if (wrong < 0) return true
    return this.createError({
      path: `${this.path}[${wrong}].branches`,
      message: 'An answer leads to a question that comes later, or ends the survey.',
    })
  })
  .test('reach', function (questions) {
    const [lost] = unreachable((questions ?? []) as Question[])
    if (lost === undefined) return true
    const place = (questions ?? []).findIndex(({ id }) => id === lost)
    return this.createError({
      path: `${this.path}[${place}].words`,
      message: 'No answer leads to this question. Change where the answers before it lead.',
    })
  })

type AnyQuestion = InferType<typeof questionSchema>

function haveOwnIds(questions: readonly AnyQuestion[]): boolean {
  const areDifferent = (ids: readonly string[]) => new Set(ids).size === ids.length && !ids.includes(END)
  return (
    areDifferent(questions.map(({ id }) => id)) &&
    questions.every(({ choices }) => areDifferent(choices.map(({ id }) => id)))
  )
}

function leadsOn({ choices, branches }: AnyQuestion, later: readonly AnyQuestion[]): boolean {
  return branches.every(
    ({ choice, low, high, next }) =>
      (next === END || later.some(({ id }) => id === next)) &&
      (choice === null ? low !== null && high !== null && low <= high : choices.some(({ id }) => id === choice)),
  )
}

export const surveyContentSchema = object({
  questions: questionsField,
  thanks: string().trim().max(200, 'The thanks are longer than 200 characters.').required('Write a word of thanks.'),
  /** On the buttons, in the language of the site. */
  words: object({ next: buttonWords(), send: buttonWords(), close: buttonWords() }).required(),
  moment: momentSchema.required(),
  audience: audienceSchema,
  ...somewhereFields,
})

export const surveySchema = object({
  name: string().trim().max(80, 'The name is longer than 80 characters.').required('Give the survey a name.'),
  content: surveyContentSchema.required(),
})
export const surveyChangeSchema = surveySchema.shape({
  /** The version that was changed. */
  version: number().integer().min(1).required('Say which version was changed.'),
})
export const surveyStateSchema = object({
  state: string()
    .oneOf(['running', 'ended'] as const, 'Choose running or ended.')
    .required('Choose a state.'),
  /** Of what is on the screen: nothing else is started. */
  version: number()
    .integer()
    .min(1)
    .when('state', { is: 'running', then: (schema) => schema.required('Say which version is started.') }),
})

/** What a survey asks, whom and when. */
export interface SurveyContent {
  questions: Question[]
  /** Said at the end. */
  thanks: string
  words: { next: string; send: string; close: string }
  moment: Moment
  /** Conditions on visitors; null for everybody, as it is for surveys from before there were any. */
  audience?: Group | null
  pages: PageRule[]
  /** Of the visitors, in buckets of 10,000. */
  share: number
}

/** A running survey, as a visitor's browser needs it. */
export interface DeliveredSurvey extends SurveyContent {
  id: number
  salt: string
}
