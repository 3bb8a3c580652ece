import { defineOperation } from '~~/server/http/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { interactionsOf } from '~~/server/services/results/interactions'

export default defineOperation('readInteractions', async ({ database, siteId, path }) =>
  interactionsOf(database, await findSheet(database, siteId, path.experiment), new Date()),
)
