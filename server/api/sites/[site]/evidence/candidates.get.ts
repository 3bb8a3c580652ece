import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('reportCandidates', ({ siteId, query }) => evidence().ask(siteId, 'candidates', query))
