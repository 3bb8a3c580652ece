import { defineOperation } from '~~/server/routing/operation'
import { listSheets } from '~~/server/services/experiments/sheet'
import { summarize } from '~~/server/services/results/results'

export default defineOperation('listExperiments', async ({ database, siteId }) =>
  summarize(database, await listSheets(database, siteId), new Date()),
)
