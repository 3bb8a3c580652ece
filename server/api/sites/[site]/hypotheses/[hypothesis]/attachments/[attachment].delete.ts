import { defineOperation } from '~~/server/http/operation'
import { deleteAttachment } from '~~/server/services/attachments'

export default defineOperation('deleteHypothesisFile', async ({ database, siteId, path }) => {
  await deleteAttachment(database, siteId, { hypothesisId: path.hypothesis }, path.attachment)
  return { deleted: true }
})
