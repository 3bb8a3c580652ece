import { defineOperation } from '~~/server/http/operation'
import { audienceSize } from '~~/server/services/audiences/audienceSize'

export default defineOperation('sizeAudience', ({ database, siteId, body }) =>
  audienceSize(database, siteId, body.conditions ?? { join: 'all', of: [] }, new Date()),
)
