import { defineOperation } from '~~/server/routing/operation'
import { requestOrigin } from '~~/server/routing/requestOrigin'
import { createSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('createSite', async ({ event, database, organisationId, personId, body }) =>
  siteView(database, await createSite(database, organisationId, personId, body), requestOrigin(event)),
)
