import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportPageFlow', ({ siteId, query }) => evidence().ask(siteId, 'flow', query))
