import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { removeExclusion } from '~~/server/services/experiments/exclusions'

export default defineOperation('removeExclusion', async ({ database, siteId, path, personId }) => {
  await removeExclusion(
    database,
    await senderQueue(),
    { siteId, experimentId: path.experiment, personId },
    path.exclusion,
  )
  return { removed: true }
})
