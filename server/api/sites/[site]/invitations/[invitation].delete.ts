import { defineOperation } from '~~/server/http/operation'
import { revokeInvitation } from '~~/server/services/accounts/invitations'

export default defineOperation('revokeInvitation', async ({ database, siteId, personId, path }) => {
  await revokeInvitation(database, siteId, personId, path.invitation)
  return { revoked: true }
})
