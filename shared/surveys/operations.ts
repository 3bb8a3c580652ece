import { answerTagSchema } from './answerTag'
import { filterSchema } from '../evidence/filter'
import { surveyQuery } from '../evidence/reports'
import { surveyAnswersReply, surveyCountsReply, surveyReply, surveysReply, surveyVersionsReply } from './replies'
import { surveyChangeSchema, surveySchema, surveyStateSchema } from './survey'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const SURVEYS_PATH = `${SITE}/surveys`
const SURVEY = `${SURVEYS_PATH}/{survey}`

export const SURVEYS = {
  listSurveys: {
    method: 'get',
    path: SURVEYS_PATH,
    access: 'viewer',
    summary: 'Surveys of the site, the latest first',
    reply: answers(surveysReply),
  },
  readSurvey: {
    method: 'get',
    path: SURVEY,
    access: 'viewer',
    summary: 'What a survey asks, whom and when',
    reply: answers(surveyReply),
  },
  createSurvey: {
    method: 'post',
    path: SURVEYS_PATH,
    access: 'editor',
    summary: 'Write a survey; nobody sees it before it is started',
    body: surveySchema,
    reply: answers(surveyReply),
  },
  updateSurvey: {
    method: 'patch',
    path: SURVEY,
    access: 'editor',
    summary: 'Change what a survey asks, whom and when',
    body: surveyChangeSchema,
    reply: answers(surveyReply),
  },
  readSurveyVersions: {
    method: 'get',
    path: `${SURVEY}/versions`,
    access: 'viewer',
    summary: 'What a survey asked earlier, the latest first',
    reply: answers(surveyVersionsReply),
  },
  setSurveyState: {
    method: 'post',
    path: `${SURVEY}/state`,
    access: 'editor',
    summary: 'Show a survey to visitors, or to nobody any more',
    body: surveyStateSchema,
    reply: answers(surveyReply),
  },
  deleteSurvey: {
    method: 'delete',
    path: SURVEY,
    access: 'editor',
    summary: 'Delete a survey that was never shown',
    reply: confirms('deleted'),
  },
  tagAnswers: {
    method: 'post',
    path: `${SURVEY}/answer-tags`,
    access: 'editor',
    summary: 'Put a tag on written answers, or take it off',
    body: answerTagSchema,
    reply: confirms('saved'),
  },
  reportSurvey: {
    method: 'get',
    path: `${SITE}/evidence/survey`,
    access: 'viewer',
    summary: 'What was answered to a survey, question by question',
    query: surveyQuery,
    reply: answers(surveyAnswersReply),
  },
  reportSurveys: {
    method: 'get',
    path: `${SITE}/evidence/surveys`,
    access: 'viewer',
    summary: 'How many were asked and answered, by survey',
    query: filterSchema,
    reply: answers(surveyCountsReply),
  },
} as const satisfies Record<string, Operation>
