import { defineOperation } from '~~/server/http/operation'
import { deleteSurvey } from '~~/server/services/surveys/surveys'

export default defineOperation('deleteSurvey', async ({ database, siteId, personId, path }) => {
  await deleteSurvey(database, { siteId, surveyId: path.survey, personId })
  return { deleted: true }
})
