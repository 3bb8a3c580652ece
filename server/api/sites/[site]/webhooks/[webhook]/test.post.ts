import { defineOperation } from '~~/server/http/operation'
import { testWebhook } from '~~/server/services/webhooks/webhooks'

export default defineOperation('testWebhook', async ({ database, siteId, path }) => {
  await testWebhook(database, { siteId, webhookId: path.webhook }, new Date())
  return { sent: true }
})
