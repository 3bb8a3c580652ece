import { defineOperation } from '~~/server/http/operation'
import { placeByHand } from '~~/server/services/hypotheses/stages'

export default defineOperation('placeHypothesis', ({ database, siteId, personId, path, body }) =>
  placeByHand(database, { siteId, hypothesisId: path.hypothesis, personId }, body),
)
