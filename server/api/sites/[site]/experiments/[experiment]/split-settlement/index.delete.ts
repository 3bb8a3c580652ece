import { defineOperation } from '~~/server/http/operation'
import { reopenSplit } from '~~/server/services/experiments/splitSettlement'

export default defineOperation('reopenSplit', async ({ database, siteId, path, personId }) => {
  await reopenSplit(database, { siteId, experimentId: path.experiment, personId })
  return { removed: true as const }
})
