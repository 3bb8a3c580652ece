import { defineOperation } from '~~/server/http/operation'
import { createAudience } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('createAudience', ({ database, siteId, personId, body }) =>
  createAudience(database, siteId, personId, body),
)
