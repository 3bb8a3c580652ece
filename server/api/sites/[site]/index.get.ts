import { defineOperation } from '~~/server/routing/operation'
import { requestOrigin } from '~~/server/routing/requestOrigin'
import { findSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('readSite', async ({ event, database, siteId }) =>
  siteView(database, await findSite(database, siteId), requestOrigin(event)),
)
