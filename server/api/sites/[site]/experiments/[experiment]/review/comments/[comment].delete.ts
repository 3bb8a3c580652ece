import { defineOperation } from '~~/server/http/operation'
import { deleteComment } from '~~/server/services/experiments/review'

export default defineOperation('deleteExperimentComment', async ({ database, siteId, personId, path }) => {
  await deleteComment(database, { siteId, experimentId: path.experiment, personId }, path.comment)
  return { deleted: true }
})
