import { number, object, string } from '../yup'
import type { Candidates } from '../../core/evidence/candidates/candidates'
import type { ClickMap, ReadingMap } from '../../core/evidence/clickMap'
import type { EventKind } from '../../core/evidence/eventKinds'
import type { FormReport } from '../../core/evidence/formReport'
import type { FunnelReport } from '../../core/evidence/funnel'
import type { Series } from '../../core/evidence/overTime'
import type { QuestionTally, WrittenAnswer } from '../../core/evidence/surveyReport'
import type { PageFigures, PageFlow } from '../../core/evidence/pageReport'
import { DIMENSIONS, STEP_KINDS, type Dimension } from '../../core/evidence/visits'
import type { MetricSource } from '../../core/measurement/metric'
import type { OccurredAddress } from '../../core/targeting/addressReport'
import type { MetricKind } from '../../core/statistics/estimate'
import { filterFields, filterSchema, metricField, readPage, SPAN } from './filter'

export const pagesQuery = object({ ...filterFields, metric: metricField }).test(...SPAN)

/** A page as reports name it: its path, with its host where that is not the site's. */
const onePage = string().max(1000, 'The address is longer than 1,000 characters.').required('Name the page.')
export const flowQuery = object({ ...filterFields, of: onePage }).test(...SPAN)

export const overTimeQuery = object({
  ...filterFields,
  by: string().oneOf(DIMENSIONS, 'There is no such dimension.'),
  metric: metricField,
}).test(...SPAN)

export const formsQuery = filterSchema
export const eventsQuery = object({ from: filterFields.from, to: filterFields.to }).test(...SPAN)

export const eventSampleQuery = object({
  from: filterFields.from,
  to: filterFields.to,
  kind: string().oneOf(STEP_KINDS, 'There is no such kind of event.').required('Say which kind of event.'),
  name: string().max(500, 'The name is longer than 500 characters.'),
}).test(...SPAN)
/** An event as it was told. */
export interface SampledEvent {
  at: string
  visitor: string
  page: string
  element: string | null
  label: string | null
  name: string | null
  amount: string | null
  properties: object | null
}

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

/** Figures of a page, with those of as many days before. */
export interface PageRow extends PageFigures {
  before: Omit<PageFigures, 'days' | 'page'> | null
}
export interface PagesView {
  days: string[]
  sessions: number
  visitors: number
  pages: PageRow[]
  /** Pages with fewer views, which are not among them. */
  others: number
}
export type FlowView = PageFlow
export interface OverTimeView {
  days: string[]
  series: Series[]
  total: { visitors: number; sessions: number; views: number }
  /** In as many days before. */
  before: { visitors: number; sessions: number; views: number }
}
export interface EventsView {
  days: string[]
  /** `last` in ms since 1970 */
  kinds: EventKind[]
  refusals: { reason: string; events: number; lastDay: string }[]
}
export interface FunnelView extends FunnelReport {
  dayNames: string[]
}
/** Visitors with the moment at which they took their last step. */
export interface LeftView {
  visitors: { visitor: string; at: string }[]
}
export interface FormsView {
  forms: FormReport[]
}
export const surveyQuery = object({
  ...filterFields,
  survey: number()
    .typeError('Name the survey by its number.')
    .integer('Name the survey by its number.')
    .min(1, 'Name the survey by its number.')
    .max(2_147_483_647, 'There is no such survey.')
    .required('Say which survey.'),
}).test(...SPAN)
/** Texts that were written, of which the latest are here, each with whether its session was recorded. */
export interface SurveyAnswersView {
  asked: number
  answered: number
  questions: (Omit<QuestionTally, 'texts'> & {
    written: number
    texts: (WrittenAnswer & { isRecorded: boolean })[]
  })[]
}
export type CandidatesView = Candidates
export interface SurveyCounts {
  surveys: { survey: number; asked: number; answered: number }[]
}
export type ClicksView = ClickMap
export type ReadingView = ReadingMap

/** What reports can be asked by: values that there were lately, metrics, variants. */
export interface EvidenceChoices {
  dimensions: { dimension: Dimension; values: string[] }[]
  /** What pages said of visitors: plan=gold. */
  attributes: string[]
  metrics: { id: string; name: string; kind: MetricKind; source: MetricSource; isMoney: boolean }[]
  variants: { experimentId: number; experiment: string; position: number; variant: string }[]
  /** Pages of the last four weeks, those with the most views first. */
  pages: string[]
  currency: string
}

/** Addresses that occurred lately, those with the most visitors first. */
export interface AddressesView {
  /** Of the site. */
  host: string
  addresses: OccurredAddress[]
}
