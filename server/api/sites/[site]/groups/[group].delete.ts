import { defineOperation } from '~~/server/http/operation'
import { deleteGroup } from '~~/server/services/traffic/groups'

export default defineOperation('deleteGroup', ({ database, siteId, personId, path }) =>
  deleteGroup(database, siteId, personId, path.group),
)
