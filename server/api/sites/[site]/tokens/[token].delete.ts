import { onlyPeople } from '~~/server/http/onlyPeople'
import { defineOperation } from '~~/server/http/operation'
import { revokeToken } from '~~/server/services/accounts/tokens'

export default defineOperation('revokeToken', async ({ database, siteId, person, path }) => {
  await revokeToken(database, siteId, onlyPeople(person).id, path.token)
  return { revoked: true }
})
