import { defineOperation } from '~~/server/http/operation'
import { countSetAside } from '~~/server/services/results/setAside'

export default defineOperation('countSetAside', ({ database, siteId, personId }) =>
  countSetAside(database, siteId, personId),
)
