import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { countSurveyAnswers } from '~~/server/services/surveys/surveyAnswers'

export default defineOperation('reportSurveys', ({ siteId, query }) => countSurveyAnswers(evidence(), siteId, query))
