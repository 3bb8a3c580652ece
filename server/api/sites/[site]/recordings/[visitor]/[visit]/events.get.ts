import { defineOperation } from '~~/server/http/operation'
import { readRecordedEvents } from '~~/server/services/recordings/recordings'

export default defineOperation('readRecordedEvents', ({ database, siteId, path, query }) =>
  readRecordedEvents(database, { siteId, visitor: path.visitor, visit: path.visit }, query.after),
)
