import { defineOperation } from '~~/server/http/operation'
import { deleteDayNote } from '~~/server/services/history/dayNotes'

export default defineOperation('deleteDayNote', async ({ database, siteId, personId, path }) => {
  await deleteDayNote(database, { siteId, noteId: path.dayNote, personId })
  return { deleted: true }
})
