import { defineOperation } from '~~/server/http/operation'
import { listServed } from '~~/server/services/rollouts/servedOrder'

export default defineOperation('listServed', ({ database, siteId }) => listServed(database, siteId))
