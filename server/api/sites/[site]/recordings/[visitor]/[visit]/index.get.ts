import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { readRecording } from '~~/server/services/recordings/recordings'

export default defineOperation('readRecording', ({ database, siteId, path }) =>
  readRecording(database, evidence(), { siteId, visitor: path.visitor, visit: path.visit }),
)
