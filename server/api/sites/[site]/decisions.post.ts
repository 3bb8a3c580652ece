import { defineOperation } from '~~/server/http/operation'
import { decideFor } from '~~/server/services/audiences/dryRun'

export default defineOperation('decide', ({ database, siteId, body }) =>
  decideFor(database, siteId, body.visitor ?? 'somebody-new', body.facts, body.address, new Date()),
)
