import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportPages', ({ siteId, query }) => evidence().ask(siteId, 'pages', query))
