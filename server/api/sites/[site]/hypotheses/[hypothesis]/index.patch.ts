import { defineOperation } from '~~/server/http/operation'
import { updateHypothesis } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('updateHypothesis', ({ database, siteId, personId, path, body }) =>
  updateHypothesis(database, { siteId, hypothesisId: path.hypothesis, personId }, body),
)
