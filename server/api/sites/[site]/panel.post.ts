import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { openPanel } from '~~/server/services/experiments/panel'
import { findSite } from '~~/server/services/sites/sites'

export default defineOperation('openPanel', async ({ event, database, siteId, sessionId, body }) => {
  const site = await findSite(database, siteId)
  return openPanel(site, sessionId, body.path, useRuntimeConfig(event).sessionPassword, Date.now())
})
