import { defineOperation } from '~~/server/http/operation'
import { restoreHypothesis } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('restoreHypothesis', ({ database, siteId, personId, path }) =>
  restoreHypothesis(database, { siteId, hypothesisId: path.hypothesis, personId }),
)
