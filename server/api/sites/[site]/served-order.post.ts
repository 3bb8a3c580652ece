import { defineOperation } from '~~/server/http/operation'
import { orderServed } from '~~/server/services/rollouts/servedOrder'

export default defineOperation('orderServed', ({ database, siteId, personId, body }) =>
  orderServed(database, siteId, personId, body.order),
)
