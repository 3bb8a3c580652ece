import { useRuntimeConfig } from '#imports'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { defineOperation } from '~~/server/http/operation'
import { openPointing } from '~~/server/services/experiments/pointing'
import { findSite } from '~~/server/services/sites/sites'

export default defineOperation('openPage', async ({ event, database, siteId, person, sessionId, body }) => {
  onlyPeople(person)
  const site = await findSite(database, siteId)
  return openPointing(site, sessionId, body.path, useRuntimeConfig(event).sessionPassword, Date.now())
})
