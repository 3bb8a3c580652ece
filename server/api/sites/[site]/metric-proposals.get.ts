import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { proposeMetrics } from '~~/server/services/metrics/metricTrial'

export default defineOperation('proposeMetrics', ({ database, siteId }) =>
  proposeMetrics({ database, evidence: evidence(), siteId }, new Date()),
)
