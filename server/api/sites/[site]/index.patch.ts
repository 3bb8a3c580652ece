import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/http/operation'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { siteView, updateSite } from '~~/server/services/sites/sites'

export default defineOperation('updateSite', async ({ event, database, siteId, personId, body }) => {
  const site = await updateSite(database, await senderQueue(), siteId, personId, body)
  return siteView(database, site, requestOrigin(event))
})
