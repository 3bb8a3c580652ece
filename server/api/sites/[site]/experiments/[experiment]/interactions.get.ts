import { defineOperation } from '~~/server/http/operation'
import { findSheetToPart } from '~~/server/services/experiments/sheet'
import { interactionsOf } from '~~/server/services/results/interactions'

export default defineOperation('readInteractions', async ({ database, siteId, path }) =>
  interactionsOf(database, await findSheetToPart(database, siteId, path.experiment), new Date()),
)
