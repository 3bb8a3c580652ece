import { defineOperation } from '~~/server/http/operation'
import { deletePersona } from '~~/server/services/audiences/personas'

export default defineOperation('deletePersona', async ({ database, siteId, personId, path }) => {
  await deletePersona(database, siteId, personId, path.persona)
  return { deleted: true }
})
