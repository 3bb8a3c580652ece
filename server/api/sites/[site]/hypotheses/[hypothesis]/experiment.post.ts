import { defineOperation } from '~~/server/routing/operation'
import { makeExperiment } from '~~/server/services/hypotheses/makeExperiment'

export default defineOperation('makeExperiment', ({ database, siteId, personId, path }) =>
  makeExperiment(database, { siteId, hypothesisId: path.hypothesis, personId }),
)
