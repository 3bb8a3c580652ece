import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { listRecordings } from '~~/server/services/recordings/recordings'

export default defineOperation('listRecordings', ({ database, siteId, query }) =>
  listRecordings(database, evidence(), siteId, query),
)
