import { array, mixed, number, object, string, type InferType, type Schema } from '../yup'
import type { Figure } from '../../core/evidence/figures'
import { funnelQuestionSchema } from '../evidence/funnel'
import {
  clicksQuery,
  eventsQuery,
  formsQuery,
  overTimeQuery,
  pagesQuery,
  readingQuery,
  surveyQuery,
} from '../evidence/reports'

export const SEVERITIES = ['low', 'medium', 'high'] as const
export type Severity = (typeof SEVERITIES)[number]
export const FINDING_STATES = ['open', 'taken up', 'set aside'] as const
export type FindingState = (typeof FINDING_STATES)[number]
/** A frozen view of a report, a note pinned to an element of a page, or one typed in. */
export const FINDING_SOURCES = ['view', 'page', 'note'] as const
export type FindingSource = (typeof FINDING_SOURCES)[number]

const MOST_TAGS = 12
/** Bytes of one file. */
export const LARGEST_ATTACHMENT = 5 * 1024 * 1024
export const MOST_ATTACHMENTS = 20

/** What each report that can be frozen is asked with. A recording has no figures. */
export const FROZEN_QUESTIONS = {
  pages: pagesQuery,
  overTime: overTimeQuery,
  forms: formsQuery,
  funnel: funnelQuestionSchema,
  clicks: clicksQuery,
  reading: readingQuery,
  survey: surveyQuery,
  events: eventsQuery,
  recording: object({}),
} as const
export type FrozenReport = keyof typeof FROZEN_QUESTIONS
export const FROZEN_REPORTS = Object.keys(FROZEN_QUESTIONS) as FrozenReport[]

const frozenSchema = object({
  report: string()
    .oneOf(FROZEN_REPORTS, 'This view cannot be kept as a finding.')
    .required('Say which report was seen.'),
  question: mixed().when('report', ([report]: unknown[]): Schema => {
    return (FROZEN_QUESTIONS[report as FrozenReport] ?? mixed()).required('Say what was asked.')
  }),
  /** Of several forms or pages in a report the one that was looked at. */
  focus: string().max(1000, 'The name is longer than 1,000 characters.').nullable().default(null),
  /** Where the view is, within Evidence. */
  place: string()
    .matches(/^[\w/-]+(\?.*)?$/, 'This is no view of Evidence.')
    .max(4000, 'The address of the view is longer than 4,000 characters.')
    .required('Say which view was seen.'),
})

const pinSchema = object({
  /** Path of the page, with its query. */
  path: string()
    .matches(/^\/(?!\/)/, 'Type the path of the page, such as /book.')
    .max(2000, 'The path is longer than 2,000 characters.')
    .required('Say which page.'),
  selector: string().max(1000, 'The selector is longer than 1,000 characters.').required('Point at an element.'),
  /** What it is and says. */
  element: string().max(200).required(),
  width: number().integer().min(200).max(4000).required(),
})

const findingFields = {
  title: string().trim().max(160, 'The title is longer than 160 characters.').required('Say in a line what was found.'),
  words: string().trim().max(10_000, 'The text is longer than 10,000 characters.').default(''),
  severity: string().oneOf(SEVERITIES, 'Choose how severe it is.').default('medium'),
  tags: array(string().trim().lowercase().max(40, 'A tag has at most 40 characters.').required())
    .max(MOST_TAGS, `At most ${MOST_TAGS} tags.`)
    .default([]),
  /** Path of the page that it is about. */
  page: string().trim().max(1000, 'The path is longer than 1,000 characters.').nullable().default(null),
}

export const findingSchema = object({
  ...findingFields,
  frozen: frozenSchema.nullable().default(null),
  pin: pinSchema.nullable().default(null),
})
export const findingChangeSchema = object({
  ...findingFields,
  state: string().oneOf(FINDING_STATES, 'Choose open, taken up or set aside.').required(),
  version: number().integer().min(1).required('Say which version was changed.'),
})
export const mergeSchema = object({
  /** The finding that says the same; null takes them apart again. */
  into: number().integer().min(1).max(2_147_483_647).nullable().defined(),
})
export const findingsQuery = object({
  search: string().max(200, 'Search for at most 200 characters.'),
  page: string().max(1000),
  tag: string().max(40),
  source: string().oneOf(FINDING_SOURCES, 'There is no such source.'),
  state: string().oneOf(FINDING_STATES, 'There is no such state.'),
})
export const attachmentQuery = object({
  name: string().trim().max(120, 'The name of the file is longer than 120 characters.').required('Name the file.'),
  /** Of the view or page that the finding is of. */
  isPicture: string().oneOf(['yes'], 'isPicture is yes, or left out.'),
})

export type FindingInput = InferType<typeof findingSchema>
export type FrozenInput = InferType<typeof frozenSchema>
export type Pin = InferType<typeof pinSchema>

/** A view as it was: what was asked, and what came of it. */
export interface FrozenView extends FrozenInput {
  figures: Figure[]
  at: string
}
