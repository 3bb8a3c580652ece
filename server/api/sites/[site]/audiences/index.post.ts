import { defineOperation } from '~~/server/routing/operation'
import { createAudience } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('createAudience', ({ database, siteId, personId, body }) =>
  createAudience(database, siteId, personId, body),
)
