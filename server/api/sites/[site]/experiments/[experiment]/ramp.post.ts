import { defineOperation } from '~~/server/http/operation'
import { advanceRamp } from '~~/server/services/traffic/ramps'

export default defineOperation('advanceRamp', ({ database, siteId, personId, path }) =>
  advanceRamp(database, { siteId, experimentId: path.experiment, personId }, new Date()),
)
