import { defineOperation } from '~~/server/http/operation'
import { dryRunPast } from '~~/server/services/audiences/dryRun'

export default defineOperation('dryRunPast', ({ database, siteId, path }) =>
  dryRunPast(database, siteId, path.experiment, new Date()),
)
