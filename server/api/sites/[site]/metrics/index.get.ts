import { defineOperation } from '~~/server/routing/operation'
import { listMetrics } from '~~/server/services/metrics/metricLibrary'

export default defineOperation('listMetrics', ({ database, siteId }) => listMetrics(database, siteId))
