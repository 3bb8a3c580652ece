import { defineOperation } from '~~/server/http/operation'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { takePinPicture } from '~~/server/services/findings/pinPicture'

export default defineOperation('photographFinding', ({ event, database, siteId, personId, path }) => {
  return takePinPicture(database, { siteId, findingId: path.finding, personId }, trustedOrigins(event))
})
