import { defineOperation } from '~~/server/http/operation'
import { listInvitations } from '~~/server/services/accounts/invitations'

export default defineOperation('listInvitations', ({ database, siteId, query }) =>
  listInvitations(database, siteId, query),
)
