import { defineOperation } from '~~/server/http/operation'
import { findMeasuredSheet } from '~~/server/services/experiments/sheet'
import { looksOf } from '~~/server/services/results/looks'

export default defineOperation('readLooks', async ({ database, siteId, path }) =>
  looksOf(database, await findMeasuredSheet(database, siteId, path.experiment)),
)
