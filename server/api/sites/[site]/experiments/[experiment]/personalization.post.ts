import { defineOperation } from '~~/server/http/operation'
import { draftPersonalization } from '~~/server/services/experiments/draftPersonalization'

export default defineOperation('draftPersonalization', ({ database, siteId, personId, path, body }) =>
  draftPersonalization(database, { siteId, experimentId: path.experiment, personId }, body.variant),
)
