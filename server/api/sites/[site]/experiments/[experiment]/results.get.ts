import { defineOperation } from '~~/server/routing/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { experimentResults } from '~~/server/services/results/results'

export default defineOperation('readResults', async ({ database, siteId, experimentId }) => {
  return experimentResults(database, await findSheet(database, siteId, experimentId), new Date())
})
