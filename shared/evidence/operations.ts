import { mixed, object, string, type Schema } from '../yup'
import {
  clicksQuery,
  eventSampleQuery,
  eventsQuery,
  flowQuery,
  liveQuery,
  formsQuery,
  overTimeQuery,
  pagesQuery,
  readingQuery,
  surveyQuery,
} from './reports'
import { filterSchema } from './filter'
import { recordingsQuery } from '../recordings/recording'
import { funnelQuestionSchema, leftQuestionSchema, savedFunnelSchema } from './funnel'
import { pointingSchema } from '../experiments/pointing'
import { pointingReply } from '../experiments/replies'
import * as replies from './replies'
import { answers, answersStream, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const EVIDENCE = `${SITE}/evidence`

/** What each report that is also a statement is asked with. */
export const STATED = {
  pages: pagesQuery,
  overTime: overTimeQuery,
  funnel: funnelQuestionSchema,
  forms: formsQuery,
  clicks: clicksQuery,
  reading: readingQuery,
  survey: surveyQuery,
  surveys: filterSchema,
  candidates: filterSchema,
  events: eventsQuery,
  flow: flowQuery,
  recordings: recordingsQuery,
} as const
const NAMES = Object.keys(STATED) as (keyof typeof STATED)[]

const statementSchema = object({
  report: string().oneOf(NAMES, 'There is no such report.').required('Say which report.'),
  question: mixed().when('report', ([report]: unknown[]): Schema => {
    return (STATED[report as keyof typeof STATED] ?? mixed()).required('Say what is asked.')
  }),
})

export const EVIDENCE_OPERATIONS = {
  listAddresses: {
    method: 'get',
    path: `${EVIDENCE}/addresses`,
    access: 'viewer',
    summary: 'The addresses that occurred in the last four weeks, with their visitors a day',
    reply: answers(replies.addressesReply),
  },
  readEvidenceChoices: {
    method: 'get',
    path: `${EVIDENCE}/choices`,
    access: 'viewer',
    summary: 'What reports can be asked by: values of the last four weeks, metrics, variants and pages',
    reply: answers(replies.choicesReply),
  },
  reportPages: {
    method: 'get',
    path: `${EVIDENCE}/pages`,
    access: 'viewer',
    summary: 'Figures of every page, with those of the previous period',
    query: pagesQuery,
    reply: answers(replies.pagesReply),
  },
  reportPageFlow: {
    method: 'get',
    path: `${EVIDENCE}/page-flow`,
    access: 'viewer',
    summary: 'Where visitors of a page come from and go next',
    query: flowQuery,
    reply: answers(replies.flowReply),
  },
  reportOverTime: {
    method: 'get',
    path: `${EVIDENCE}/over-time`,
    access: 'viewer',
    summary: 'Visitors, sessions, who is active, and a metric, by day and by the values of a dimension',
    query: overTimeQuery,
    reply: answers(replies.overTimeReply),
  },
  reportEvents: {
    method: 'get',
    path: `${EVIDENCE}/events`,
    access: 'viewer',
    summary: 'Every kind of event that arrived, by day, and what was refused',
    query: eventsQuery,
    reply: answers(replies.eventsReply),
  },
  sampleEvents: {
    method: 'get',
    path: `${EVIDENCE}/event-sample`,
    access: 'viewer',
    summary: 'The latest events of a kind as they were told, within some days',
    query: eventSampleQuery,
    reply: answers(replies.eventSampleReply),
  },
  watchArrivals: {
    method: 'get',
    path: `${EVIDENCE}/live`,
    access: 'viewer',
    summary: 'What arrives, as it arrives (server-sent events)',
    query: liveQuery,
    produces: 'text/event-stream',
    reply: answersStream(),
  },
  reportForms: {
    method: 'get',
    path: `${EVIDENCE}/forms`,
    access: 'viewer',
    summary: 'Every form, field by field',
    query: formsQuery,
    reply: answers(replies.formsReply),
  },
  reportClicks: {
    method: 'get',
    path: `${EVIDENCE}/clicks`,
    access: 'viewer',
    summary: 'Where people click on some pages, by element and cell',
    query: clicksQuery,
    reply: answers(replies.clicksReply),
  },
  reportReading: {
    method: 'get',
    path: `${EVIDENCE}/reading`,
    access: 'viewer',
    summary: 'How far down some pages are read, and how long each part is looked at',
    query: readingQuery,
    reply: answers(replies.readingReply),
  },
  reportCandidates: {
    method: 'get',
    path: `${EVIDENCE}/candidates`,
    access: 'viewer',
    summary: 'What stands out by itself, by rule, with how often each rule speaks where there is nothing',
    query: filterSchema,
    reply: answers(replies.candidatesReply),
  },
  openPage: {
    method: 'post',
    path: `${EVIDENCE}/page-frame`,
    access: 'viewer',
    summary: 'Get a short-lived token to show a page of the site, uncounted, under a report',
    body: pointingSchema,
    reply: answers(pointingReply),
  },
  reportFunnel: {
    method: 'post',
    path: `${EVIDENCE}/funnel`,
    access: 'viewer',
    summary: 'How many take each step of a way',
    body: funnelQuestionSchema,
    reply: answers(replies.funnelReply),
  },
  reportFunnelLeft: {
    method: 'post',
    path: `${EVIDENCE}/funnel-left`,
    access: 'viewer',
    summary: 'Visitors who came as far as a step and no further, the latest first',
    body: leftQuestionSchema,
    reply: answers(replies.leftReply),
  },
  stateReport: {
    method: 'post',
    path: `${EVIDENCE}/statement`,
    access: 'viewer',
    summary: 'The statement over raw views and events that says what a report says',
    body: statementSchema,
    reply: answers(replies.statementReply),
  },
  listFunnels: {
    method: 'get',
    path: `${SITE}/funnels`,
    access: 'viewer',
    summary: 'Saved funnels',
    reply: answers(replies.funnelsReply),
  },
  createFunnel: {
    method: 'post',
    path: `${SITE}/funnels`,
    access: 'editor',
    summary: 'Save a funnel under a name',
    body: savedFunnelSchema,
    reply: answers(replies.savedFunnelReply),
  },
  updateFunnel: {
    method: 'patch',
    path: `${SITE}/funnels/{funnel}`,
    access: 'editor',
    summary: 'Change a saved funnel',
    body: savedFunnelSchema,
    reply: answers(replies.savedFunnelReply),
  },
  deleteFunnel: {
    method: 'delete',
    path: `${SITE}/funnels/{funnel}`,
    access: 'editor',
    summary: 'Delete a saved funnel',
    reply: confirms('deleted'),
  },
} as const satisfies Record<string, Operation>
