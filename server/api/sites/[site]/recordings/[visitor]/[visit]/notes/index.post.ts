import { defineOperation } from '~~/server/http/operation'
import { addNote } from '~~/server/services/recordings/notes'

export default defineOperation('addRecordingNote', ({ database, siteId, personId, path, body }) =>
  addNote(database, { siteId, visitor: path.visitor, visit: path.visit }, personId, body),
)
