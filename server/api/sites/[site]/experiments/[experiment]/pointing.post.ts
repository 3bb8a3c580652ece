import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/routing/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { openPointing } from '~~/server/services/experiments/pointing'
import { findSite } from '~~/server/services/sites/sites'

export default defineOperation('openPointing', async ({ event, database, siteId, experimentId, body }) => {
  await findSheet(database, siteId, experimentId)
  return openPointing(await findSite(database, siteId), body.path, useRuntimeConfig(event).sessionPassword, Date.now())
})
