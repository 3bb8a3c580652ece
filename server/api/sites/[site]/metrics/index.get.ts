import { defineOperation } from '~~/server/http/operation'
import { listMetrics } from '~~/server/services/metrics/metricLibrary'

export default defineOperation('listMetrics', ({ database, siteId }) => listMetrics(database, siteId))
