import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { listRecordings } from '~~/server/services/recordings/recordings'

export default defineOperation('listRecordings', ({ database, siteId, query }) =>
  listRecordings(database, evidence(), siteId, query),
)
