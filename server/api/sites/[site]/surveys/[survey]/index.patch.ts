import { defineOperation } from '~~/server/http/operation'
import { updateSurvey } from '~~/server/services/surveys/surveys'

export default defineOperation('updateSurvey', ({ database, siteId, personId, path, body }) =>
  updateSurvey(database, { siteId, surveyId: path.survey, personId }, body),
)
