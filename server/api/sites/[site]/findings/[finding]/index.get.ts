import { defineOperation } from '~~/server/http/operation'
import { findFinding } from '~~/server/services/findings/findings'

export default defineOperation('readFinding', ({ database, siteId, path }) =>
  findFinding(database, siteId, path.finding),
)
