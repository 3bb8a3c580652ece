import { useRuntimeConfig } from '#imports'
import { onlyPeople } from '~~/server/http/onlyPeople'
import { defineOperation } from '~~/server/http/operation'
import { findSheet } from '~~/server/services/experiments/sheet'
import { openPointing } from '~~/server/services/experiments/pointing'
import { findSite } from '~~/server/services/sites/sites'

export default defineOperation('openPointing', async ({ event, database, siteId, person, sessionId, path, body }) => {
  onlyPeople(person)
  await findSheet(database, siteId, path.experiment)
  const site = await findSite(database, siteId)
  return openPointing(site, sessionId, body.path, useRuntimeConfig(event).sessionPassword, Date.now())
})
