import { defineOperation } from '~~/server/http/operation'
import { updatePersona } from '~~/server/services/audiences/personas'

export default defineOperation('updatePersona', ({ database, siteId, personId, path, body }) =>
  updatePersona(database, siteId, personId, path.persona, body),
)
