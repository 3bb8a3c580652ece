import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { restoreState } from '~~/server/services/experiments/restoreState'
import { renewPictures } from '~~/server/services/pictures/variantPictures'

export default defineOperation('restoreState', async ({ database, siteId, path, personId }) => {
  const target = { siteId, experimentId: path.experiment, personId }
  const sheet = await restoreState(database, target, path.change)
  await renewPictures(database, senderQueue, sheet)
  return sheet
})
