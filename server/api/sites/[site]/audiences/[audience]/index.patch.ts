import { defineOperation } from '~~/server/http/operation'
import { updateAudience } from '~~/server/services/audiences/updateAudience'

export default defineOperation('updateAudience', ({ database, siteId, personId, path, body }) =>
  updateAudience(database, siteId, personId, path.audience, body),
)
