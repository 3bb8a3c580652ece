import { defineOperation } from '~~/server/http/operation'
import { readCollection } from '~~/server/services/collection/collection'

export default defineOperation('readCollection', ({ database, siteId }) => readCollection(database, siteId))
