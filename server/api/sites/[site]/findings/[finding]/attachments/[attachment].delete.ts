import { defineOperation } from '~~/server/http/operation'
import { deleteAttachment } from '~~/server/services/attachments'

export default defineOperation('deleteAttachment', async ({ database, siteId, path }) => {
  await deleteAttachment(database, siteId, { findingId: path.finding }, path.attachment)
  return { deleted: true }
})
