import { defineOperation } from '~~/server/routing/operation'
import { evidence } from '~~/server/routing/evidenceThread'
import { assessIdea } from '~~/server/services/hypotheses/assessIdea'

export default defineOperation('assessIdea', ({ database, siteId, body }) =>
  assessIdea({ database, evidence: evidence(), siteId }, body, new Date()),
)
