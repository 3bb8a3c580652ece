import { defineOperation } from '~~/server/http/operation'
import { updateAudience } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('updateAudience', ({ database, siteId, personId, path, body }) =>
  updateAudience(database, siteId, personId, path.audience, body),
)
