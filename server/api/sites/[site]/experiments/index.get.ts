import { defineOperation } from '~~/server/http/operation'
import { listExperiments } from '~~/server/services/experiments/listExperiments'

export default defineOperation('listExperiments', ({ database, siteId, query }) =>
  listExperiments(database, siteId, query),
)
