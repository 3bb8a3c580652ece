import { defineOperation } from '~~/server/http/operation'
import { settleSplit } from '~~/server/services/experiments/splitSettlement'

export default defineOperation('settleSplit', ({ database, siteId, path, person, personId, body }) =>
  settleSplit(database, { siteId, experimentId: path.experiment, personId }, person?.name ?? null, body),
)
