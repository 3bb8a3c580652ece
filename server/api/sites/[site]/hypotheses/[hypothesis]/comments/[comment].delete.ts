import { defineOperation } from '~~/server/http/operation'
import { deleteComment } from '~~/server/services/hypotheses/comments'

export default defineOperation('deleteHypothesisComment', async ({ database, siteId, personId, path }) => {
  await deleteComment(database, { siteId, hypothesisId: path.hypothesis, personId }, path.comment)
  return { deleted: true }
})
