import { defineOperation } from '~~/server/http/operation'
import { changeDayNote } from '~~/server/services/history/dayNotes'

export default defineOperation('changeDayNote', ({ database, siteId, personId, path, body }) =>
  changeDayNote(database, { siteId, noteId: path.dayNote, personId }, body),
)
