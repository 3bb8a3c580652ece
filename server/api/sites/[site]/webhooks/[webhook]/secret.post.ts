import { defineOperation } from '~~/server/http/operation'
import { drawWebhookSecret } from '~~/server/services/webhooks/webhooks'

export default defineOperation('drawWebhookSecret', ({ database, siteId, personId, path }) =>
  drawWebhookSecret(database, { siteId, webhookId: path.webhook, personId }),
)
