import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportForms', ({ siteId, query }) => evidence().ask(siteId, 'forms', query))
