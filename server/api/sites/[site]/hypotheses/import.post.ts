import { defineOperation } from '~~/server/http/operation'
import { importHypotheses } from '~~/server/services/hypotheses/table'

export default defineOperation('importHypotheses', ({ database, siteId, personId, body }) =>
  importHypotheses(database, { siteId, personId }, body.rows, body),
)
