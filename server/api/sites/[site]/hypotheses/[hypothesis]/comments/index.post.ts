import { defineOperation } from '~~/server/http/operation'
import { addComment } from '~~/server/services/hypotheses/comments'

export default defineOperation('addHypothesisComment', ({ database, siteId, personId, path, body }) =>
  addComment(database, { siteId, hypothesisId: path.hypothesis, personId }, body.words),
)
