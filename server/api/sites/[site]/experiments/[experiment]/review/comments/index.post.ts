import { defineOperation } from '~~/server/http/operation'
import { addComment } from '~~/server/services/experiments/review'

export default defineOperation('addExperimentComment', ({ database, siteId, personId, path, body }) =>
  addComment(database, { siteId, experimentId: path.experiment, personId }, body.words),
)
