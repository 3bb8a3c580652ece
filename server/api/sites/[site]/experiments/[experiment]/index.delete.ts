import { defineOperation } from '~~/server/http/operation'
import { deleteExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('deleteExperiment', async ({ database, siteId, path, personId }) => {
  await deleteExperiment(database, { siteId, experimentId: path.experiment, personId })
  return { deleted: true }
})
