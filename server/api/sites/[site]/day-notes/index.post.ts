import { defineOperation } from '~~/server/http/operation'
import { addDayNote } from '~~/server/services/history/dayNotes'

export default defineOperation('addDayNote', ({ database, siteId, personId, body }) =>
  addDayNote(database, { siteId, personId }, body),
)
