import { defineOperation } from '~~/server/routing/operation'
import { listGroups } from '~~/server/services/traffic/groups'

export default defineOperation('listGroups', ({ database, siteId }) => listGroups(database, siteId))
