import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportPageFlow', ({ siteId, query }) => evidence().ask(siteId, 'flow', query))
