import { defineOperation } from '~~/server/http/operation'
import { dropPersonKey } from '~~/server/services/sites/personKey'

export default defineOperation('dropPersonKey', ({ database, siteId, personId }) =>
  dropPersonKey(database, { siteId, personId }),
)
