import { defineOperation } from '~~/server/routing/operation'
import { changeRollout } from '~~/server/services/rollouts/rollouts'

export default defineOperation('changeRollout', ({ database, siteId, personId, path, body }) =>
  changeRollout(database, { siteId, rolloutId: path.rollout, personId }, body, new Date()),
)
