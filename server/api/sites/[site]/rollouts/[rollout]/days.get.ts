import { defineOperation } from '~~/server/routing/operation'
import { rolloutDays } from '~~/server/services/rollouts/rollouts'

export default defineOperation('listRolloutDays', ({ database, siteId, path }) =>
  rolloutDays(database, siteId, path.rollout, new Date()),
)
