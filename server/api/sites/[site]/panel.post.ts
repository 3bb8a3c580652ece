import { useRuntimeConfig } from '#imports'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { defineOperation } from '~~/server/http/operation'
import { openPanel } from '~~/server/services/experiments/panel'
import { findSite } from '~~/server/services/sites/sites'

export default defineOperation('openPanel', async ({ event, database, siteId, person, sessionId, body }) => {
  onlyPeople(person)
  const site = await findSite(database, siteId)
  return openPanel(site, sessionId, body.path, useRuntimeConfig(event).sessionPassword, Date.now())
})
