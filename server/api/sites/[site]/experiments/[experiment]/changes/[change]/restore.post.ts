import { restoreState } from '~~/server/services/experiments/restoreState'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('restoreState', ({ database, siteId, path, personId }) =>
  restoreState(database, { siteId, experimentId: path.experiment, personId }, path.change),
)
