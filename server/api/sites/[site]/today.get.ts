import { defineOperation } from '~~/server/http/operation'
import { today } from '~~/server/services/today'

export default defineOperation('readToday', ({ database, siteId, personId }) =>
  today(database, siteId, new Date(), personId),
)
