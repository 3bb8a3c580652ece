import { defineOperation } from '~~/server/routing/operation'
import { updateExperiment } from '~~/server/services/experiments/experiments'
import type { ExperimentPatch } from '~~/shared/experiment'

export default defineOperation('updateExperiment', ({ database, siteId, experimentId, personId, body }) => {
  return updateExperiment(database, { siteId, experimentId, personId }, body as ExperimentPatch)
})
