import { defineOperation } from '~~/server/http/operation'
import { readPersonKey } from '~~/server/services/sites/personKey'

export default defineOperation('readPersonKey', ({ database, siteId }) => readPersonKey(database, siteId))
