import { defineOperation } from '~~/server/http/operation'
import { changeRollout } from '~~/server/services/rollouts/rollouts'

export default defineOperation('changeRollout', ({ database, siteId, personId, path, body }) =>
  changeRollout(database, { siteId, rolloutId: path.rollout, personId }, body, new Date()),
)
