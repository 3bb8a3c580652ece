import { sendTable } from '~~/server/http/sendTable'
import { defineOperation } from '~~/server/http/operation'
import { findMeasuredSheet } from '~~/server/services/experiments/sheet'
import { experimentResults } from '~~/server/services/results/results'
import { resultsTable } from '~~/server/services/results/tables'

export default defineOperation('exportResults', async ({ event, database, siteId, path }) => {
  const results = await experimentResults(
    database,
    await findMeasuredSheet(database, siteId, path.experiment),
    new Date(),
  )
  return sendTable(event, `experiment-${path.experiment}-results`, resultsTable(results))
})
