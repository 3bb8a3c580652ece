import { defineOperation } from '~~/server/http/operation'
import { createHypothesis } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('createHypothesis', ({ database, siteId, personId, body }) =>
  createHypothesis(database, { siteId, personId }, body),
)
