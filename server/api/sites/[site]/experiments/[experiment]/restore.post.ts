import { defineOperation } from '~~/server/routing/operation'
import { restoreExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('restoreExperiment', ({ database, siteId, path, personId }) =>
  restoreExperiment(database, { siteId, experimentId: path.experiment, personId }),
)
