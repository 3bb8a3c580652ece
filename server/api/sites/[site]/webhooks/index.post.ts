import { defineOperation } from '~~/server/http/operation'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { siteReach } from '~~/server/services/sites/reach'
import { createWebhook } from '~~/server/services/webhooks/webhooks'

export default defineOperation('createWebhook', async ({ event, database, siteId, personId, body }) =>
  createWebhook(database, { siteId, personId }, body, await siteReach(database, siteId, trustedOrigins(event))),
)
