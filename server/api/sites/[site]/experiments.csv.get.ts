import { sendTable } from '~~/server/http/sendTable'
import { defineOperation } from '~~/server/http/operation'
import { readSummaries } from '~~/server/services/experiments/listExperiments'
import { experimentsTable } from '~~/server/services/results/tables'

export default defineOperation('exportExperiments', async ({ event, database, siteId }) =>
  sendTable(event, 'experiments', experimentsTable(await readSummaries(database, siteId, null, 'test'))),
)
