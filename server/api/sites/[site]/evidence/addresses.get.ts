import { defineOperation } from '~~/server/http/operation'
import { occurredAddresses } from '~~/server/services/evidence/occurredAddresses'

export default defineOperation('listAddresses', ({ database, siteId }) =>
  occurredAddresses(database, siteId, new Date()),
)
