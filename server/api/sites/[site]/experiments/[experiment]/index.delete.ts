import { defineOperation } from '~~/server/routing/operation'
import { deleteExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('deleteExperiment', async ({ database, siteId, experimentId, personId }) => {
  await deleteExperiment(database, { siteId, experimentId, personId })
  return { deleted: true }
})
