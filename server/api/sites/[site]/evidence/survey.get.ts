import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { readSurveyAnswers } from '~~/server/services/surveys/surveyAnswers'

export default defineOperation('reportSurvey', ({ database, siteId, query }) =>
  readSurveyAnswers(database, evidence(), siteId, query),
)
