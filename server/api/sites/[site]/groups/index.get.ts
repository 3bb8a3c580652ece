import { defineOperation } from '~~/server/http/operation'
import { listGroups } from '~~/server/services/traffic/groups'

export default defineOperation('listGroups', ({ database, siteId }) => listGroups(database, siteId))
