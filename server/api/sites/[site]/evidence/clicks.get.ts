import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportClicks', ({ siteId, query }) => evidence().ask(siteId, 'clicks', query))
