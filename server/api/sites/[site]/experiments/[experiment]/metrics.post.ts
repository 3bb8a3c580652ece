import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { addMetricToStarted } from '~~/server/services/experiments/addMetric'
import type { SheetMetric } from '~~/core/sheet/content'

export default defineOperation('addMetric', async ({ database, siteId, path, personId, body }) =>
  addMetricToStarted(
    database,
    await senderQueue(),
    { siteId, experimentId: path.experiment, personId },
    body.version,
    body.metric as SheetMetric,
  ),
)
