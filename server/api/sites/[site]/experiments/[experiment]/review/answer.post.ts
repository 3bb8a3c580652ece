import { defineOperation } from '~~/server/http/operation'
import { answerApproval } from '~~/server/services/experiments/review'

export default defineOperation('answerApproval', ({ database, siteId, personId, path, body }) =>
  answerApproval(database, { siteId, experimentId: path.experiment, personId }, body),
)
