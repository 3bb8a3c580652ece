import { defineOperation } from '~~/server/http/operation'
import { createHoldout } from '~~/server/services/traffic/holdouts'

export default defineOperation('createHoldout', ({ database, siteId, personId, body }) =>
  createHoldout(database, siteId, personId, body, new Date()),
)
