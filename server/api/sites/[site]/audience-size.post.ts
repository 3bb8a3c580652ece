import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'

export default defineOperation('sizeAudience', ({ event, siteId, body }) =>
  trafficFor(event)('audienceSize', [siteId, body.conditions ?? { join: 'all', of: [] }, new Date()]),
)
