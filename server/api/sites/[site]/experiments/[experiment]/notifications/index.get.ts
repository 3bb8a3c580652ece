import { defineOperation } from '~~/server/http/operation'
import { readExperimentWays } from '~~/server/services/notifications/choices'

export default defineOperation('readExperimentWays', ({ database, siteId, personId, path }) =>
  readExperimentWays(database, { siteId, experimentId: path.experiment, personId }),
)
