import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportClicks', ({ siteId, query }) => evidence().ask(siteId, 'clicks', query))
