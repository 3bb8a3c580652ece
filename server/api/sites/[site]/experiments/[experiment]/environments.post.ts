import { defineOperation } from '~~/server/http/operation'
import { showInEnvironment } from '~~/server/services/sites/environments'

export default defineOperation('showInEnvironment', ({ database, siteId, personId, path, body }) =>
  showInEnvironment(database, { siteId, experimentId: path.experiment, personId }, body),
)
