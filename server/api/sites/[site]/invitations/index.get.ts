import { defineOperation } from '~~/server/routing/operation'
import { listInvitations } from '~~/server/services/accounts/invitations'

export default defineOperation('listInvitations', ({ database, siteId, query }) =>
  listInvitations(database, siteId, query),
)
