import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportForms', ({ siteId, query }) => evidence().ask(siteId, 'forms', query))
