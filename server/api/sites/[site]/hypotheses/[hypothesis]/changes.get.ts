import { defineOperation } from '~~/server/http/operation'
import { changesOf } from '~~/server/services/changes'

export default defineOperation('listHypothesisChanges', ({ database, siteId, path, query }) =>
  changesOf(database, siteId, { subject: 'hypothesis', id: path.hypothesis }, query),
)
