import type { InferType } from '../yup'
import { SURVEY_STATES, type SurveyContent } from './survey'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const surveyReply = exactly({
  id: id(),
  name: text(),
  state: oneOf(...SURVEY_STATES),
  content: anything<SurveyContent>(),
  version: id(),
  person: text().nullable(),
  createdAt: moment(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
})
export type SurveyView = InferType<typeof surveyReply>

export const surveysReply = listOf(surveyReply)

const surveyVersion = exactly({
  version: id(),
  at: moment(),
  person: text().nullable(),
  name: text(),
  content: anything<SurveyContent>(),
})
export type SurveyVersion = InferType<typeof surveyVersion>

export const surveyVersionsReply = listOf(surveyVersion)

export const surveyAnswersReply = exactly({
  asked: whole(),
  answered: whole(),
  questions: listOf(
    exactly({
      id: text(),
      answered: whole(),
      written: whole(),
      choices: listOf(exactly({ id: text(), count: whole() })),
      values: listOf(exactly({ value: whole(), count: whole() })),
      /** Of the written answers, the most first. */
      tags: listOf(exactly({ tag: text(), count: whole() })),
      texts: listOf(
        exactly({
          visitor: text(),
          session: text(),
          at: amount(),
          text: text(),
          isRecorded: yesOrNo(),
          tags: listOf(text()),
        }),
      ),
    }),
  ),
})
/** Texts that were written, of which the latest are here, each with whether its session was recorded. */
export type SurveyAnswersView = InferType<typeof surveyAnswersReply>

export const surveyCountsReply = exactly({
  surveys: listOf(exactly({ survey: id(), asked: whole(), answered: whole() })),
})
export type SurveyCounts = InferType<typeof surveyCountsReply>
