import { defineOperation } from '~~/server/http/operation'
import { updateCollection } from '~~/server/services/collection/collection'

export default defineOperation('updateCollection', ({ database, siteId, personId, body }) =>
  updateCollection(database, siteId, personId, body),
)
