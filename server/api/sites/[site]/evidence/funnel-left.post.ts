import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportFunnelLeft', ({ siteId, body }) => evidence().ask(siteId, 'left', body))
