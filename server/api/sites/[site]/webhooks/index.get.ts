import { defineOperation } from '~~/server/http/operation'
import { listWebhooks } from '~~/server/services/webhooks/webhooks'

export default defineOperation('listWebhooks', ({ database, siteId }) => listWebhooks(database, siteId))
