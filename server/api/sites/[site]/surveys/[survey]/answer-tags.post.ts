import { defineOperation } from '~~/server/http/operation'
import { tagAnswers } from '~~/server/services/surveys/answerTags'

export default defineOperation('tagAnswers', async ({ database, siteId, personId, path, body }) => {
  await tagAnswers(database, { siteId, surveyId: path.survey, personId }, body)
  return { saved: true }
})
