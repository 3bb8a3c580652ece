import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportFunnel', ({ siteId, body }) => evidence().ask(siteId, 'funnel', body))
