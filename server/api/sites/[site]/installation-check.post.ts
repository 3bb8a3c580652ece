import { threadFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { inspectInThread } from '~~/server/services/sites/inspectInThread'
import { checkInstallation } from '~~/server/services/sites/sites'

export default defineOperation('checkInstallation', ({ event, database, siteId, body }) => {
  return checkInstallation(database, siteId, body.path, requestOrigin(event), trustedOrigins(event), (page) =>
    inspectInThread(threadFile('inspectPage'), { look: 'installation', page }),
  )
})
