import { defineOperation } from '~~/server/http/operation'
import { createFunnel } from '~~/server/services/evidence/funnels'

export default defineOperation('createFunnel', ({ database, siteId, personId, body }) =>
  createFunnel(database, siteId, personId, body),
)
