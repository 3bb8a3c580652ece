import { defineOperation } from '~~/server/http/operation'
import { findSheet } from '~~/server/services/experiments/sheet'

export default defineOperation('readExperiment', ({ database, siteId, path }) =>
  findSheet(database, siteId, path.experiment),
)
