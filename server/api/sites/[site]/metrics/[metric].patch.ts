import { defineOperation } from '~~/server/http/operation'
import { renameMetric } from '~~/server/services/metrics/metricLibrary'

export default defineOperation('renameMetric', async ({ database, siteId, path, body }) => {
  await renameMetric(database, siteId, path.metric, body.name)
  return { renamed: true }
})
