import { defineOperation } from '~~/server/http/operation'
import { servedBeside } from '~~/server/services/rollouts/servedBeside'

export default defineOperation('listServedBeside', ({ database, siteId, path }) =>
  servedBeside(database, siteId, path.experiment),
)
