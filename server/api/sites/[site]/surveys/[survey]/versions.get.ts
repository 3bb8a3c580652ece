import { defineOperation } from '~~/server/http/operation'
import { surveyVersions } from '~~/server/services/surveys/surveyVersions'

export default defineOperation('readSurveyVersions', ({ database, siteId, path }) =>
  surveyVersions(database, siteId, path.survey),
)
