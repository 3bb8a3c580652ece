import { defineOperation } from '~~/server/http/operation'
import { deleteHypothesis } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('deleteHypothesis', async ({ database, siteId, personId, path }) => {
  await deleteHypothesis(database, { siteId, hypothesisId: path.hypothesis, personId })
  return { deleted: true }
})
