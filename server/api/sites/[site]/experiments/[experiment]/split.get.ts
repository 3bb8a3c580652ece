import { defineOperation } from '~~/server/http/operation'
import { findSheetToPart } from '~~/server/services/experiments/sheet'
import { readSplit } from '~~/server/services/results/readSplit'

export default defineOperation('readSplit', async ({ database, siteId, path }) =>
  readSplit(database, await findSheetToPart(database, siteId, path.experiment)),
)
