import { defineOperation } from '~~/server/http/operation'
import { findMeasuredSheet } from '~~/server/services/experiments/sheet'
import { eventsStatement } from '~~/server/services/results/explanations/eventsStatement'

export default defineOperation('readEventsStatement', async ({ database, siteId, path, query }) =>
  eventsStatement(database, await findMeasuredSheet(database, siteId, path.experiment), query, new Date()),
)
