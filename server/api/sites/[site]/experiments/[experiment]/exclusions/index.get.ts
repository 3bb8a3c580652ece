import { defineOperation } from '~~/server/http/operation'
import { listExclusions } from '~~/server/services/experiments/exclusions'

export default defineOperation('listExclusions', ({ database, siteId, path, query }) =>
  listExclusions(database, siteId, path.experiment, query),
)
