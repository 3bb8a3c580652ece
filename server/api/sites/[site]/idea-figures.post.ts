import { defineOperation } from '~~/server/routing/operation'
import { evidence } from '~~/server/routing/evidenceThread'
import { refreshFigures } from '~~/server/services/hypotheses/ideaFigures'

export default defineOperation('refreshIdeas', ({ database, siteId }) =>
  refreshFigures({ database, evidence: evidence(), siteId }, new Date()),
)
