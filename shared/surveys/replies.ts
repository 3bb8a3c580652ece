import type { SurveyAnswersView, SurveyCounts } from '../evidence/reports'
import { SURVEY_STATES, type SurveyView } from './survey'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

export const surveyReply = exactly<SurveyView>({
  id: id(),
  name: text(),
  state: oneOf(...SURVEY_STATES),
  content: anything(),
  version: id(),

  person: text().nullable(),
  createdAt: moment(),
  startedAt: moment().nullable(),
  endedAt: moment().nullable(),
})
export const surveysReply = listOf(surveyReply)

type Tally = SurveyAnswersView['questions'][number]
export const surveyAnswersReply = exactly<SurveyAnswersView>({
  asked: whole(),
  answered: whole(),
  questions: listOf(
    exactly<Tally>({
      id: text(),
      answered: whole(),
      written: whole(),
      choices: listOf(exactly<Tally['choices'][number]>({ id: text(), count: whole() })),
      values: listOf(exactly<Tally['values'][number]>({ value: whole(), count: whole() })),
      texts: listOf(
        exactly<Tally['texts'][number]>({
          visitor: text(),
          session: text(),
          at: amount(),
          text: text(),
          isRecorded: yesOrNo(),
        }),
      ),
    }),
  ),
})
export const surveyCountsReply = exactly<SurveyCounts>({
  surveys: listOf(exactly<SurveyCounts['surveys'][number]>({ survey: id(), asked: whole(), answered: whole() })),
})
