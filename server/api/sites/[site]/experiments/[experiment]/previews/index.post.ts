import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { createPreview } from '~~/server/services/experiments/previews'

export default defineOperation('createPreview', ({ event, database, siteId, personId, path, body }) => {
  const target = { siteId, experimentId: path.experiment, personId }
  return createPreview(database, target, body, useRuntimeConfig(event).sessionPassword, new Date())
})
