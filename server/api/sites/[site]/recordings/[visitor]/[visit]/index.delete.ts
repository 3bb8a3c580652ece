import { defineOperation } from '~~/server/http/operation'
import { deleteRecording } from '~~/server/services/recordings/recordings'

export default defineOperation('deleteRecording', async ({ database, siteId, path }) => {
  await deleteRecording(database, { siteId, visitor: path.visitor, visit: path.visit })
  return { deleted: true }
})
