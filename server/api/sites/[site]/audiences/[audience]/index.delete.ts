import { defineOperation } from '~~/server/http/operation'
import { deleteAudience } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('deleteAudience', async ({ database, siteId, personId, path }) => {
  await deleteAudience(database, siteId, personId, path.audience)
  return { deleted: true }
})
