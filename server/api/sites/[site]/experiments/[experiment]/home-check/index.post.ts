import { deliveryFile } from '~~/server/http/deliveryFile'
import { defineOperation } from '~~/server/http/operation'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { lookAtHome } from '~~/server/services/goingHome/lookAtHome'

export default defineOperation('lookAtHome', async ({ event, database, siteId, path }) => {
  const layoutScript = await deliveryFile('layout.js')
  const at = { siteId, experimentId: path.experiment }
  return lookAtHome(database, at, { layoutScript, trustedOrigins: trustedOrigins(event) }, new Date())
})
