import { defineOperation } from '~~/server/http/operation'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { createSite, siteView } from '~~/server/services/sites/sites'

export default defineOperation('createSite', async ({ event, database, organisationId, personId, body }) =>
  siteView(database, await createSite(database, organisationId, personId, body), requestOrigin(event)),
)
