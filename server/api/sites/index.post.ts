import { getRequestURL } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { createSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('createSite', async ({ event, database, body, organisationId, personId }) => {
  return siteView(await createSite(database, organisationId, personId, body), getRequestURL(event).origin)
})
