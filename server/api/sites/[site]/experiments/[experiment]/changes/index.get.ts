import { defineOperation } from '~~/server/http/operation'
import { changesOf } from '~~/server/services/changes'

export default defineOperation('readChanges', ({ database, siteId, path, query }) =>
  changesOf(database, siteId, { subject: 'experiment', id: path.experiment }, query),
)
