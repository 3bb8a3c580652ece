import { defineOperation } from '~~/server/http/operation'
import { createToken } from '~~/server/services/accounts/tokens'

export default defineOperation('createToken', ({ database, siteId, personId, body }) =>
  createToken(database, siteId, personId, body.name, body.scope),
)
