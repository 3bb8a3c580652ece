import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { countSurveyAnswers } from '~~/server/services/surveys/surveyAnswers'

export default defineOperation('reportSurveys', ({ siteId, query }) => countSurveyAnswers(evidence(), siteId, query))
