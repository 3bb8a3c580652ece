import { defineOperation } from '~~/server/http/operation'
import { withdrawApproval } from '~~/server/services/experiments/review'

export default defineOperation('withdrawApproval', async ({ database, siteId, path }) => {
  await withdrawApproval(database, { siteId, experimentId: path.experiment }, path.approval)
  return { withdrawn: true }
})
