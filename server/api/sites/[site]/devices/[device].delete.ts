import { defineOperation } from '~~/server/http/operation'
import { unpinDevice } from '~~/server/services/experiments/pinnedDevices'

export default defineOperation('unpinDevice', async ({ database, siteId, path }) => {
  await unpinDevice(database, siteId, path.device, new Date())
  return { unpinned: true }
})
