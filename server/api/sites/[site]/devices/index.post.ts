import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { pinDevice } from '~~/server/services/experiments/pinnedDevices'

export default defineOperation('pinDevice', ({ event, database, siteId, personId, body }) => {
  const asking = { siteId, secret: useRuntimeConfig(event).sessionPassword, now: new Date() }
  return pinDevice(database, asking, personId, body.name)
})
