import type { MetricDefinition } from '~~/core/measurement/metric'
import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { tryMetric } from '~~/server/services/metrics/metricTrial'

export default defineOperation('tryMetric', ({ database, siteId, body }) =>
  tryMetric({ database, evidence: evidence(), siteId }, body as MetricDefinition, new Date()),
)
