import { defineOperation } from '~~/server/http/operation'
import { deleteFunnel } from '~~/server/services/evidence/funnels'

export default defineOperation('deleteFunnel', async ({ database, siteId, personId, path }) => {
  await deleteFunnel(database, { siteId, funnelId: path.funnel, personId })
  return { deleted: true }
})
