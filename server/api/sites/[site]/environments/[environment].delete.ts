import { defineOperation } from '~~/server/http/operation'
import { detachEnvironment } from '~~/server/services/sites/environments'

export default defineOperation('detachEnvironment', ({ database, siteId, personId, path }) =>
  detachEnvironment(database, siteId, personId, path.environment),
)
