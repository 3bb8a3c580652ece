import { defineOperation } from '~~/server/http/operation'
import { mergeFinding } from '~~/server/services/findings/findings'

export default defineOperation('mergeFinding', ({ database, siteId, personId, path, body }) =>
  mergeFinding(database, { siteId, findingId: path.finding, personId }, body.into),
)
