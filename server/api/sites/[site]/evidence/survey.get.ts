import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { readSurveyAnswers } from '~~/server/services/surveys/surveyAnswers'

export default defineOperation('reportSurvey', ({ database, siteId, query }) =>
  readSurveyAnswers(database, evidence(), siteId, query),
)
