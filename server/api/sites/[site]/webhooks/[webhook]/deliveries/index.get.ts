import { defineOperation } from '~~/server/http/operation'
import { listDeliveries } from '~~/server/services/webhooks/deliveries'

export default defineOperation('listDeliveries', ({ database, siteId, path, query }) =>
  listDeliveries(database, { siteId, webhookId: path.webhook }, query),
)
