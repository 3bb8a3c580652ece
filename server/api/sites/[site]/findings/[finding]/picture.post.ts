import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { takePinPicture } from '~~/server/services/findings/pinPicture'

export default defineOperation('photographFinding', ({ event, database, siteId, personId, path }) => {
  const trusted = useRuntimeConfig(event).demoOrigins.split(',').filter(Boolean)
  return takePinPicture(database, { siteId, findingId: path.finding, personId }, trusted)
})
