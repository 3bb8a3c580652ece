import { defineOperation } from '~~/server/routing/operation'
import { countSetAside } from '~~/server/services/results/setAside'

export default defineOperation('countSetAside', ({ database, siteId, personId }) =>
  countSetAside(database, siteId, personId),
)
