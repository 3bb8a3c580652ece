import { defineOperation } from '~~/server/http/operation'
import { scheduleExperiment } from '~~/server/services/experiments/schedule'

export default defineOperation('scheduleExperiment', ({ database, siteId, path, personId, body }) =>
  scheduleExperiment(database, { siteId, experimentId: path.experiment, personId }, body, new Date()),
)
