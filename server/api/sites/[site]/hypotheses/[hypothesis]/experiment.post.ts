import { defineOperation } from '~~/server/http/operation'
import { makeExperiment } from '~~/server/services/hypotheses/makeExperiment'

export default defineOperation('makeExperiment', ({ database, siteId, personId, path, body }) =>
  makeExperiment(database, { siteId, hypothesisId: path.hypothesis, personId }, body.purpose),
)
