import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportOverTime', ({ siteId, query }) => evidence().ask(siteId, 'overTime', query))
