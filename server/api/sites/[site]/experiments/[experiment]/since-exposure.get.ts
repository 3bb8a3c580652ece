import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'
import { findSheetToPart } from '~~/server/services/experiments/sheet'

export default defineOperation('readSinceExposure', async ({ event, database, siteId, path, query }) => {
  const sheet = await findSheetToPart(database, siteId, path.experiment)
  return trafficFor(event)('sinceExposureOf', [sheet, query.metric, new Date()])
})
