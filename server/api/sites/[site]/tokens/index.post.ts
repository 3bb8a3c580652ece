import { onlyPeople } from '~~/server/http/onlyPeople'
import { defineOperation } from '~~/server/http/operation'
import { createToken } from '~~/server/services/accounts/tokens'

export default defineOperation('createToken', ({ database, siteId, person, body }) =>
  createToken(database, siteId, onlyPeople(person).id, body.name, body.scope),
)
