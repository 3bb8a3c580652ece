import { defineOperation } from '~~/server/http/operation'
import { findSheetToPart } from '~~/server/services/experiments/sheet'
import { readSegments } from '~~/server/services/results/segments'

export default defineOperation('readSegments', async ({ database, siteId, path }) =>
  readSegments(database, await findSheetToPart(database, siteId, path.experiment), new Date()),
)
