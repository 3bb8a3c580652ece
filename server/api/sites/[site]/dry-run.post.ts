import { defineOperation } from '~~/server/http/operation'
import { dryRunPersona } from '~~/server/services/audiences/dryRun'

export default defineOperation('dryRun', ({ database, siteId, body }) =>
  dryRunPersona(database, siteId, body.facts, body.visitor ?? 'somebody-new', body.address, new Date()),
)
