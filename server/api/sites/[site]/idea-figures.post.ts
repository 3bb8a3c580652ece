import { defineOperation } from '~~/server/http/operation'
import { evidence } from '~~/server/http/evidenceThread'
import { refreshFigures } from '~~/server/services/hypotheses/ideaFigures'

export default defineOperation('refreshIdeas', ({ database, siteId }) =>
  refreshFigures({ database, evidence: evidence(), siteId }, new Date()),
)
