import { defineOperation } from '~~/server/http/operation'
import { findMeasuredSheet } from '~~/server/services/experiments/sheet'
import { experimentResults } from '~~/server/services/results/results'

export default defineOperation('readResults', async ({ database, siteId, path }) =>
  experimentResults(database, await findMeasuredSheet(database, siteId, path.experiment), new Date()),
)
