import { defineOperation } from '~~/server/routing/operation'
import { restoreExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('restoreExperiment', ({ database, siteId, experimentId, personId }) =>
  restoreExperiment(database, { siteId, experimentId, personId }),
)
