import { defineOperation } from '~~/server/http/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { readLooks } from '~~/server/services/results/looks'

export default defineOperation('readLooks', async ({ database, siteId, path }) => {
  const { id } = await findSheet(database, siteId, path.experiment)
  return readLooks(database, siteId, id)
})
