import { defineOperation } from '~~/server/http/operation'
import { askApproval } from '~~/server/services/experiments/review'

export default defineOperation('askApproval', ({ database, siteId, personId, path, body }) =>
  askApproval(database, { siteId, experimentId: path.experiment, personId }, body.person),
)
