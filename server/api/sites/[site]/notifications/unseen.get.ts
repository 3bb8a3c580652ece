import { defineOperation } from '~~/server/http/operation'
import { countUnseen } from '~~/server/services/notifications/notifications'

export default defineOperation('countUnseen', async ({ database, siteId, personId }) => ({
  count: await countUnseen(database, { siteId, personId }),
}))
