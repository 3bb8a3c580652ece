import { defineOperation } from '~~/server/http/operation'
import { replayDelivery } from '~~/server/services/webhooks/deliveries'

export default defineOperation('replayDelivery', async ({ database, siteId, path }) => {
  await replayDelivery(database, { siteId, webhookId: path.webhook }, path.delivery, new Date())
  return { sent: true }
})
