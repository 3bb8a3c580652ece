import { defineOperation } from '~~/server/http/operation'
import { updateFinding } from '~~/server/services/findings/findings'

export default defineOperation('updateFinding', ({ database, siteId, personId, path, body }) =>
  updateFinding(database, { siteId, findingId: path.finding, personId }, body),
)
