import { sendTable } from '~~/server/routing/sendTable'
import { defineOperation } from '~~/server/routing/operation'
import { listSheets } from '~~/server/services/experiments/sheet'
import { experimentsTable } from '~~/server/services/results/tables'
import { summarize } from '~~/server/services/results/results'

export default defineOperation('exportExperiments', async ({ event, database, siteId }) => {
  const summaries = await summarize(database, await listSheets(database, siteId), new Date())
  return sendTable(event, 'experiments', experimentsTable(summaries))
})
