import { defineOperation } from '~~/server/http/operation'
import { listAudienceVersions } from '~~/server/services/audiences/savedAudiences'

export default defineOperation('listAudienceVersions', ({ database, siteId, path }) =>
  listAudienceVersions(database, siteId, path.audience),
)
