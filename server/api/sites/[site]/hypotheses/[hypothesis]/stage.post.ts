import { defineOperation } from '~~/server/http/operation'
import { setStage } from '~~/server/services/hypotheses/stages'

export default defineOperation('setHypothesisStage', ({ database, siteId, personId, path, body }) =>
  setStage(database, { siteId, hypothesisId: path.hypothesis, personId }, body),
)
