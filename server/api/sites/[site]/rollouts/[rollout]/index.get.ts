import { defineOperation } from '~~/server/routing/operation'
import { findRollout } from '~~/server/services/rollouts/rollouts'

export default defineOperation('readRollout', ({ database, siteId, path }) =>
  findRollout(database, siteId, path.rollout, new Date()),
)
