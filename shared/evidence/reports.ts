import { number, object, string } from '../yup'
import type { Candidates } from '../../core/evidence/candidates/candidates'
import type { ClickMap, ReadingMap } from '../../core/evidence/clickMap'
import type { PageFlow } from '../../core/evidence/pageReport'
import { DIMENSIONS, STEP_KINDS } from '../../core/evidence/visits'
import { PERIODS } from '../../core/time/periods'
import { filterFields, filterSchema, metricField, readPage, SPAN } from './filter'

export const pagesQuery = object({ ...filterFields, metric: metricField }).test(...SPAN)

/** A page as reports name it: its path, with its host where that is not the site's. */
const onePage = string().max(1000, 'The address is longer than 1,000 characters.').required('Name the page.')
export const flowQuery = object({ ...filterFields, of: onePage }).test(...SPAN)

export const overTimeQuery = object({
  ...filterFields,
  by: string().oneOf(DIMENSIONS, 'There is no such dimension.'),
  metric: metricField,
  /** What is put together: a day, where nothing is said. */
  per: string().oneOf(PERIODS, 'Ask by day, week or month.'),
}).test(...SPAN)

export const formsQuery = filterSchema
export const eventsQuery = object({ from: filterFields.from, to: filterFields.to }).test(...SPAN)

export const eventSampleQuery = object({
  from: filterFields.from,
  to: filterFields.to,
  kind: string().oneOf(STEP_KINDS, 'There is no such kind of event.').required('Say which kind of event.'),
  name: string().max(500, 'The name is longer than 500 characters.'),
}).test(...SPAN)

/** Whether only what comes from the own browser is told. */
export const liveQuery = object({ mine: string().oneOf(['yes'], 'mine is yes, or left out.') })

const WIDEST = 100_000
const pixels = (fallback: number) =>
  number()
    .typeError('A width is a number of pixels.')
    .integer('A width is a whole number of pixels.')
    .min(0, 'A width is at least 0.')
    .max(WIDEST, 'A width is at most 100,000.')
    .default(fallback)
const mapFields = {
  ...filterFields,
  /** Pages that the map is of, such as is:/book. */
  of: string()
    .max(600, 'The address is longer than 600 characters.')
    .required('Name the page, such as is:/book.')
    .test('page', 'Write the page as is:/book, begins:/crossings/ or contains:torrin.', (value) => {
      return readPage(value) !== null
    }),
  widthFrom: pixels(0),
  widthBelow: pixels(WIDEST),
}
export const clicksQuery = object({
  ...mapFields,
  kind: string()
    .oneOf(['click', 'rage', 'dead'] as const, 'Choose click, rage or dead.')
    .default('click'),
}).test(...SPAN)
export const readingQuery = object(mapFields).test(...SPAN)

export type FlowView = PageFlow
export const surveyQuery = object({
  ...filterFields,
  survey: number()
    .typeError('Name the survey by its number.')
    .integer('Name the survey by its number.')
    .min(1, 'Name the survey by its number.')
    .max(2_147_483_647, 'There is no such survey.')
    .required('Say which survey.'),
}).test(...SPAN)
export type CandidatesView = Candidates
export type ClicksView = ClickMap
export type ReadingView = ReadingMap
