import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'

export default defineOperation('dryRunPast', ({ event, siteId, path }) =>
  trafficFor(event)('dryRunPast', [siteId, path.experiment, new Date()]),
)
