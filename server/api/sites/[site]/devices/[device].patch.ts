import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { showOnDevice } from '~~/server/services/experiments/pinnedDevices'

export default defineOperation('showOnDevice', ({ event, database, siteId, path, body }) => {
  const asking = { siteId, secret: useRuntimeConfig(event).sessionPassword, now: new Date() }
  return showOnDevice(database, asking, path.device, body)
})
