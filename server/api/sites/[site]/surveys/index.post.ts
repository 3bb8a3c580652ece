import { defineOperation } from '~~/server/http/operation'
import { createSurvey } from '~~/server/services/surveys/surveys'

export default defineOperation('createSurvey', ({ database, siteId, personId, body }) =>
  createSurvey(database, siteId, personId, body),
)
