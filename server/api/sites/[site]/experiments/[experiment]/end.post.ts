import { defineOperation } from '~~/server/routing/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('endExperiment', ({ database, siteId, path, personId }) =>
  moveExperiment(database, { siteId, experimentId: path.experiment, personId }, 'end'),
)
