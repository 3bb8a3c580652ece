import { defineOperation } from '~~/server/http/operation'
import { rolloutDays } from '~~/server/services/rollouts/rollouts'

export default defineOperation('listRolloutDays', ({ database, siteId, path }) =>
  rolloutDays(database, siteId, path.rollout, new Date()),
)
