import { defineOperation } from '~~/server/http/operation'
import { readReview } from '~~/server/services/experiments/review'

export default defineOperation('readReview', ({ database, siteId, personId, path }) =>
  readReview(database, { siteId, experimentId: path.experiment, personId }),
)
