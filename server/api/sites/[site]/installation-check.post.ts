import { useRuntimeConfig } from '#imports'
import { getRequestURL } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { checkInstallation } from '~~/server/services/sites/sites'

export default defineOperation('checkInstallation', ({ event, database, siteId, body }) => {
  const { demoOrigin } = useRuntimeConfig(event)
  return checkInstallation(database, siteId, body.path, getRequestURL(event).origin, demoOrigin ? [demoOrigin] : [])
})
