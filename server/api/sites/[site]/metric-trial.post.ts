import type { MetricDefinition } from '~~/core/measurement/metric'
import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { tryMetric } from '~~/server/services/metrics/metricTrial'

export default defineOperation('tryMetric', ({ database, siteId, body }) =>
  tryMetric({ database, evidence: evidence(), siteId }, body as MetricDefinition, new Date()),
)
