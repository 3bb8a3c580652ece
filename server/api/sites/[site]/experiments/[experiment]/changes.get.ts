import { defineOperation } from '~~/server/routing/operation'
import { changesOf } from '~~/server/services/changes'

export default defineOperation('readChanges', ({ database, siteId, experimentId }) =>
  changesOf(database, siteId, 'experiment', experimentId),
)
