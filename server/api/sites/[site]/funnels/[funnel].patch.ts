import { defineOperation } from '~~/server/http/operation'
import { updateFunnel } from '~~/server/services/evidence/funnels'

export default defineOperation('updateFunnel', ({ database, siteId, personId, path, body }) =>
  updateFunnel(database, { siteId, funnelId: path.funnel, personId }, body),
)
