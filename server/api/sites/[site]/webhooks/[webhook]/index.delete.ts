import { defineOperation } from '~~/server/http/operation'
import { deleteWebhook } from '~~/server/services/webhooks/webhooks'

export default defineOperation('deleteWebhook', async ({ database, siteId, personId, path }) => {
  await deleteWebhook(database, { siteId, webhookId: path.webhook, personId })
  return { deleted: true }
})
