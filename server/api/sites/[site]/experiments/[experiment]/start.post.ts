import { defineOperation } from '~~/server/routing/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('startExperiment', ({ database, siteId, experimentId, personId }) =>
  moveExperiment(database, { siteId, experimentId, personId }, 'start'),
)
