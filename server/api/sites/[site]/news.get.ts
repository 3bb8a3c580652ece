import { defineOperation } from '~~/server/routing/operation'
import { streamNews } from '~~/server/routing/streamNews'

export default defineOperation('readNews', ({ event, siteId }) => streamNews(event, siteId))
