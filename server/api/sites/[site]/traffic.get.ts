import { defineOperation } from '~~/server/routing/operation'
import { readTraffic } from '~~/server/services/traffic/traffic'

export default defineOperation('readTraffic', ({ database, siteId, query }) => readTraffic(database, siteId, query))
