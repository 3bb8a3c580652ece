import { defineOperation } from '~~/server/http/operation'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('resumeExperiment', ({ database, siteId, path, personId }) =>
  moveExperiment(database, { siteId, experimentId: path.experiment, personId }, 'resume'),
)
