import { defineOperation } from '~~/server/routing/operation'
import { updateCollection } from '~~/server/services/collection/collection'

export default defineOperation('updateCollection', ({ database, siteId, personId, body }) =>
  updateCollection(database, siteId, personId, body),
)
