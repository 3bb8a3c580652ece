import { defineOperation } from '~~/server/http/operation'
import { createPersona } from '~~/server/services/audiences/personas'

export default defineOperation('createPersona', ({ database, siteId, personId, body }) =>
  createPersona(database, siteId, personId, body),
)
