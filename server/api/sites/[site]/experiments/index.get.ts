import { defineOperation } from '~~/server/routing/operation'
import { listExperiments } from '~~/server/services/experiments/listExperiments'

export default defineOperation('listExperiments', ({ database, siteId, query }) =>
  listExperiments(database, siteId, query),
)
