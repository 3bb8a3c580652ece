import { defineOperation } from '~~/server/http/operation'
import { findRollout } from '~~/server/services/rollouts/rollouts'

export default defineOperation('readRollout', ({ database, siteId, path }) =>
  findRollout(database, siteId, path.rollout, new Date()),
)
