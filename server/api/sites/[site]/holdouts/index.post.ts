import { defineOperation } from '~~/server/routing/operation'
import { createHoldout } from '~~/server/services/traffic/holdouts'

export default defineOperation('createHoldout', ({ database, siteId, personId, body }) =>
  createHoldout(database, siteId, personId, body, new Date()),
)
