import { defineOperation } from '~~/server/routing/operation'
import { createFunnel } from '~~/server/services/evidence/funnels'

export default defineOperation('createFunnel', ({ database, siteId, personId, body }) =>
  createFunnel(database, siteId, personId, body),
)
