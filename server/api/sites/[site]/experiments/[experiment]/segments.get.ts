import { defineOperation } from '~~/server/http/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { readSegments } from '~~/server/services/results/segments'

export default defineOperation('readSegments', async ({ database, siteId, path }) =>
  readSegments(database, await findSheet(database, siteId, path.experiment), new Date()),
)
