import { defineOperation } from '~~/server/http/operation'
import { changesOf } from '~~/server/services/changes'

export default defineOperation('listRolloutChanges', ({ database, siteId, path, query }) =>
  changesOf(database, siteId, { subject: 'rollout', id: path.rollout }, query),
)
