import { defineOperation } from '~~/server/routing/operation'
import { listSurveys } from '~~/server/services/surveys/surveys'

export default defineOperation('listSurveys', ({ database, siteId }) => listSurveys(database, siteId))
