import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { addExclusion } from '~~/server/services/experiments/exclusions'

export default defineOperation('addExclusion', async ({ database, siteId, path, personId, body }) => ({
  id: await addExclusion(database, await senderQueue(), { siteId, experimentId: path.experiment, personId }, body),
}))
