import { defineOperation } from '~~/server/http/operation'
import { startRollout } from '~~/server/services/rollouts/rollouts'

export default defineOperation('startRollout', ({ database, siteId, path, personId, body }) =>
  startRollout(database, { siteId, experimentId: path.experiment, personId }, body, new Date()),
)
