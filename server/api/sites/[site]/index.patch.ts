import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/routing/operation'
import { requestOrigin } from '~~/server/routing/requestOrigin'
import { siteView, updateSite } from '~~/server/services/sites/sites'

export default defineOperation('updateSite', async ({ event, database, siteId, personId, body }) => {
  const site = await updateSite(database, await senderQueue(), siteId, personId, body)
  return siteView(database, site, requestOrigin(event))
})
