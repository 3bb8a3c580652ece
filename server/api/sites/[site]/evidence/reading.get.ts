import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportReading', ({ siteId, query }) => evidence().ask(siteId, 'reading', query))
