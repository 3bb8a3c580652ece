import { defineOperation } from '~~/server/http/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('startExperiment', ({ database, siteId, path, personId, body }) =>
  moveExperiment(database, { siteId, experimentId: path.experiment, personId }, 'start', body),
)
