import { defineOperation } from '~~/server/http/operation'
import { markSeen } from '~~/server/services/notifications/notifications'

export default defineOperation('markSeen', async ({ database, siteId, personId, body }) => {
  await markSeen(database, { siteId, personId }, body.upTo, new Date())
  return { seen: true }
})
