import { defineOperation } from '~~/server/http/operation'
import { deleteFinding } from '~~/server/services/findings/findings'

export default defineOperation('deleteFinding', async ({ database, siteId, personId, path }) => {
  await deleteFinding(database, { siteId, findingId: path.finding, personId })
  return { deleted: true }
})
