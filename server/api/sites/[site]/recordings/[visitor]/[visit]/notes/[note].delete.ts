import { defineOperation } from '~~/server/http/operation'
import { removeNote } from '~~/server/services/recordings/notes'

export default defineOperation('removeRecordingNote', async ({ database, siteId, path }) => {
  await removeNote(database, { siteId, visitor: path.visitor, visit: path.visit }, path.note)
  return { removed: true }
})
