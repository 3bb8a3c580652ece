import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { metricFigures } from '~~/server/services/metrics/metricLibrary'

export default defineOperation('readMetricFigures', ({ database, siteId }) =>
  metricFigures({ database, evidence: evidence(), siteId }, new Date()),
)
