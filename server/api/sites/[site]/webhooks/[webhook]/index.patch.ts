import { defineOperation } from '~~/server/http/operation'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { siteReach } from '~~/server/services/sites/reach'
import { changeWebhook } from '~~/server/services/webhooks/webhooks'

export default defineOperation('changeWebhook', async ({ event, database, siteId, personId, path, body }) => {
  const reach = await siteReach(database, siteId, trustedOrigins(event))
  return changeWebhook(database, { siteId, webhookId: path.webhook, personId }, body, reach, new Date())
})
