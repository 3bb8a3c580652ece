import { defineOperation } from '~~/server/http/operation'
import { revokeToken } from '~~/server/services/accounts/tokens'

export default defineOperation('revokeToken', async ({ database, siteId, personId, path }) => {
  await revokeToken(database, siteId, personId, path.token)
  return { revoked: true }
})
