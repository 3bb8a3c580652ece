import { defineOperation } from '~~/server/http/operation'
import { changeExperimentWays } from '~~/server/services/notifications/choices'

export default defineOperation('changeExperimentWays', ({ database, siteId, personId, path, body }) =>
  changeExperimentWays(database, { siteId, experimentId: path.experiment, personId }, body),
)
