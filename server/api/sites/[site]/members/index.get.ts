import { defineOperation } from '~~/server/http/operation'
import { listMembers } from '~~/server/services/accounts/members'

export default defineOperation('listMembers', ({ database, siteId, personId, query }) =>
  listMembers(database, siteId, personId, query),
)
