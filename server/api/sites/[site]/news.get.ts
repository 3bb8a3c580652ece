import { defineOperation } from '~~/server/http/operation'
import { streamNews } from '~~/server/http/streamNews'

export default defineOperation('readNews', ({ event, siteId, personId }) => streamNews(event, siteId, personId))
