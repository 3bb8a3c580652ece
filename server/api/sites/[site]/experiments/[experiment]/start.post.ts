import { defineOperation } from '~~/server/routing/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('startExperiment', ({ database, siteId, path, personId, body }) =>
  moveExperiment(database, { siteId, experimentId: path.experiment, personId }, 'start', body),
)
