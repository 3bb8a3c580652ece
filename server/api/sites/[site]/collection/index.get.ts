import { defineOperation } from '~~/server/routing/operation'
import { readCollection } from '~~/server/services/collection/collection'

export default defineOperation('readCollection', ({ database, siteId }) => readCollection(database, siteId))
