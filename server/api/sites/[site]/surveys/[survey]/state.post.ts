import { defineOperation } from '~~/server/http/operation'
import { setSurveyState } from '~~/server/services/surveys/surveys'

export default defineOperation('setSurveyState', ({ database, siteId, personId, path, body }) =>
  setSurveyState(database, { siteId, surveyId: path.survey, personId }, body.state, new Date(), body.version),
)
