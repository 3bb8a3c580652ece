import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { listDevices } from '~~/server/services/experiments/pinnedDevices'

export default defineOperation('listDevices', ({ event, database, siteId }) =>
  listDevices(database, { siteId, secret: useRuntimeConfig(event).sessionPassword, now: new Date() }),
)
