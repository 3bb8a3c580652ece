import { defineOperation } from '~~/server/http/operation'
import { evidence } from '~~/server/http/evidenceThread'
import { assessIdea } from '~~/server/services/hypotheses/assessIdea'

export default defineOperation('assessIdea', ({ database, siteId, body }) =>
  assessIdea({ database, evidence: evidence(), siteId }, body, new Date()),
)
