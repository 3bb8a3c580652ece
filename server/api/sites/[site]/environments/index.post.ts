import { defineOperation } from '~~/server/http/operation'
import { createEnvironment } from '~~/server/services/sites/environments'

export default defineOperation('createEnvironment', ({ database, siteId, personId, body }) =>
  createEnvironment(database, siteId, personId, body),
)
