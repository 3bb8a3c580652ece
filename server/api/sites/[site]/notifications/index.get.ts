import { defineOperation } from '~~/server/http/operation'
import { listNotifications } from '~~/server/services/notifications/notifications'

export default defineOperation('listNotifications', ({ database, siteId, personId, query }) =>
  listNotifications(database, { siteId, personId }, query),
)
