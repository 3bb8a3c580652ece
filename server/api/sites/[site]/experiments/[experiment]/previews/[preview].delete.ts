import { defineOperation } from '~~/server/http/operation'
import { revokePreview } from '~~/server/services/experiments/previews'

export default defineOperation('revokePreview', async ({ database, siteId, path }) => {
  await revokePreview(database, { siteId, experimentId: path.experiment }, path.preview, new Date())
  return { revoked: true }
})
