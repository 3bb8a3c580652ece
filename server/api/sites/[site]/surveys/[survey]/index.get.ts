import { defineOperation } from '~~/server/http/operation'
import { findSurvey } from '~~/server/services/surveys/surveys'

export default defineOperation('readSurvey', ({ database, siteId, path }) => findSurvey(database, siteId, path.survey))
