import { useRuntimeConfig } from '#imports'
import { threadFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { inspectInThread } from '~~/server/services/sites/inspectInThread'
import { checkInstallation } from '~~/server/services/sites/sites'

export default defineOperation('checkInstallation', ({ event, database, siteId, body }) => {
  const trusted = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  return checkInstallation(database, siteId, body.path, requestOrigin(event), trusted, (page) =>
    inspectInThread(threadFile('inspectPage'), { look: 'installation', page }),
  )
})
