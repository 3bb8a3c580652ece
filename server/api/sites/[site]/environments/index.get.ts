import { defineOperation } from '~~/server/http/operation'
import { listEnvironments } from '~~/server/services/sites/environments'

export default defineOperation('listEnvironments', ({ database, siteId }) => listEnvironments(database, siteId))
