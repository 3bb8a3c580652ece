import { defineOperation } from '~~/server/http/operation'
import { listSurveys } from '~~/server/services/surveys/surveys'

export default defineOperation('listSurveys', ({ database, siteId }) => listSurveys(database, siteId))
