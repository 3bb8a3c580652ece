import { defineOperation } from '~~/server/routing/operation'
import { updateExperiment } from '~~/server/services/experiments/experiments'
import type { ExperimentPatch } from '~~/shared/experiment'

export default defineOperation('updateExperiment', ({ database, siteId, path, personId, body }) =>
  updateExperiment(database, { siteId, experimentId: path.experiment, personId }, body as ExperimentPatch),
)
