import { defineOperation } from '~~/server/http/operation'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { findSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('readSite', async ({ event, database, siteId }) =>
  siteView(database, await findSite(database, siteId), requestOrigin(event)),
)
