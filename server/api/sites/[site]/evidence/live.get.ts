import { defineOperation } from '~~/server/routing/operation'
import { streamArrivals } from '~~/server/routing/streamArrivals'

export default defineOperation('watchArrivals', ({ event, siteId, query }) =>
  streamArrivals(event, siteId, query.mine === 'yes'),
)
