import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { metricFigures } from '~~/server/services/metrics/metricLibrary'

export default defineOperation('readMetricFigures', ({ database, siteId }) =>
  metricFigures({ database, evidence: evidence(), siteId }, new Date()),
)
