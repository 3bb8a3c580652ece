import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportReading', ({ siteId, query }) => evidence().ask(siteId, 'reading', query))
