import { defineOperation } from '~~/server/http/operation'
import { copyExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('copyExperiment', ({ database, siteId, path, personId }) =>
  copyExperiment(database, { siteId, experimentId: path.experiment, personId }),
)
