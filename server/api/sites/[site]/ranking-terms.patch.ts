import { defineOperation } from '~~/server/http/operation'
import { updateTerms } from '~~/server/services/hypotheses/terms'

export default defineOperation('updateRankingTerms', ({ database, siteId, personId, body }) =>
  updateTerms(database, { siteId, personId }, body),
)
