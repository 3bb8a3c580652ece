import { defineOperation } from '~~/server/http/operation'
import { createGroup } from '~~/server/services/traffic/groups'

export default defineOperation('createGroup', ({ database, siteId, personId, body }) =>
  createGroup(database, siteId, personId, body),
)
