import { getRequestURL } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { siteView, updateSite } from '~~/server/services/sites/sites'

export default defineOperation('updateSite', async ({ event, database, siteId, personId, body }) => {
  return siteView(await updateSite(database, siteId, personId, body), getRequestURL(event).origin)
})
