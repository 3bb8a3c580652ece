import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { proposeMetrics } from '~~/server/services/metrics/metricTrial'

export default defineOperation('proposeMetrics', ({ database, siteId }) =>
  proposeMetrics({ database, evidence: evidence(), siteId }, new Date()),
)
