import { defineOperation } from '~~/server/http/operation'
import { listAlarms } from '~~/server/services/watch/alarms'

export default defineOperation('readAlarms', ({ database, siteId, query }) =>
  listAlarms(database, siteId, query, new Date()),
)
