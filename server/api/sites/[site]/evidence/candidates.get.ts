import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('reportCandidates', ({ siteId, query }) => evidence().ask(siteId, 'candidates', query))
