import { defineOperation } from '~~/server/http/operation'
import { findHypothesis } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('readHypothesis', ({ database, siteId, personId, path }) =>
  findHypothesis(database, siteId, path.hypothesis, personId),
)
