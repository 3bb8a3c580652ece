import { defineOperation } from '~~/server/http/operation'
import { streamArrivals } from '~~/server/http/streamArrivals'

export default defineOperation('watchArrivals', ({ event, siteId, query, personId }) =>
  streamArrivals(event, siteId, query.mine === 'yes', personId),
)
