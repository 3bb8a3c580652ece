import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportFunnelLeft', ({ siteId, body }) => evidence().ask(siteId, 'left', body))
