import { defineOperation } from '~~/server/http/operation'
import { findSheetToPart } from '~~/server/services/experiments/sheet'
import { readTrends } from '~~/server/services/results/trends'

export default defineOperation('readTrends', async ({ database, siteId, path }) =>
  readTrends(database, await findSheetToPart(database, siteId, path.experiment), new Date()),
)
