import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportPages', ({ siteId, query }) => evidence().ask(siteId, 'pages', query))
