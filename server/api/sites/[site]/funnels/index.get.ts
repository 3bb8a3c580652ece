import { defineOperation } from '~~/server/http/operation'
import { listFunnels } from '~~/server/services/evidence/funnels'

export default defineOperation('listFunnels', ({ database, siteId }) => listFunnels(database, siteId))
