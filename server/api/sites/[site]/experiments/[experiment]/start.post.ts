import { defineOperation } from '~~/server/http/operation'
import { trafficFor } from '~~/server/http/traffic'
import { moveExperiment } from '~~/server/services/experiments/experiments'

export default defineOperation('startExperiment', ({ event, database, siteId, path, personId, body }) =>
  moveExperiment(database, { siteId, experimentId: path.experiment, personId }, 'start', {
    ...body,
    look: (sheet, now) => trafficFor(event)('lookAtTraffic', [sheet, now]),
  }),
)
