import { getRequestURL } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { findSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('readSite', async ({ event, database, siteId }) =>
  siteView(await findSite(database, siteId), getRequestURL(event).origin),
)
