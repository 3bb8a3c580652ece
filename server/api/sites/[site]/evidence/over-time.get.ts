import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportOverTime', ({ siteId, query }) => evidence().ask(siteId, 'overTime', query))
