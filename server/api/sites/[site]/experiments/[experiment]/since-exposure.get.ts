import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'
import { findSheet } from '~~/server/services/experiments/sheet'

export default defineOperation('readSinceExposure', async ({ event, database, siteId, path, query }) => {
  const sheet = await findSheet(database, siteId, path.experiment)
  return trafficFor(event)('sinceExposureOf', [sheet, query.metric, new Date()])
})
