import { requestRefoldOfSite } from '~~/server/jobs/backgroundJobs'
import { senderQueue } from '~~/server/jobs/senderQueue'
import { defineOperation } from '~~/server/routing/operation'
import { requestOrigin } from '~~/server/routing/requestOrigin'
import { siteView, updateSite } from '~~/server/services/sites/sites'

export default defineOperation('updateSite', async ({ event, database, siteId, personId, body }) => {
  const { site, isRemeasured } = await updateSite(database, siteId, personId, body)
  if (isRemeasured)
    await requestRefoldOfSite(database, await senderQueue(), siteId, 'Computing numbers by the new settings')
  return siteView(database, site, requestOrigin(event))
})
