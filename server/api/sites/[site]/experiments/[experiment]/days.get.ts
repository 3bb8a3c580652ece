import { defineOperation } from '~~/server/http/operation'
import { findSheetToPart } from '~~/server/services/experiments/sheet'
import { readDays } from '~~/server/services/results/days'

export default defineOperation('readDays', async ({ database, siteId, path }) =>
  readDays(database, await findSheetToPart(database, siteId, path.experiment), new Date()),
)
