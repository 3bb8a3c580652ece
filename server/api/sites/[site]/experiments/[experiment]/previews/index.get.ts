import { useRuntimeConfig } from '#imports'
import { defineOperation } from '~~/server/http/operation'
import { listPreviews } from '~~/server/services/experiments/previews'

export default defineOperation('listPreviews', ({ event, database, siteId, path }) => {
  const { sessionPassword } = useRuntimeConfig(event)
  return listPreviews(database, { siteId, experimentId: path.experiment }, sessionPassword, new Date())
})
