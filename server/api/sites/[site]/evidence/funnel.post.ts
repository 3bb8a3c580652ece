import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportFunnel', ({ siteId, body }) => evidence().ask(siteId, 'funnel', body))
