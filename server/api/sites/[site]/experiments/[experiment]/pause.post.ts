import { defineOperation } from '~~/server/routing/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('pauseExperiment', ({ database, siteId, experimentId, personId }) =>
  moveExperiment(database, { siteId, experimentId, personId }, 'pause'),
)
