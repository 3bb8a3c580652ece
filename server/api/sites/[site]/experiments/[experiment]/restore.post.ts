import { defineOperation } from '~~/server/http/operation'
import { restoreExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('restoreExperiment', ({ database, siteId, path, personId }) =>
  restoreExperiment(database, { siteId, experimentId: path.experiment, personId }),
)
