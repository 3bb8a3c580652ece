import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { readRecording } from '~~/server/services/recordings/recordings'

export default defineOperation('readRecording', ({ database, siteId, path }) =>
  readRecording(database, evidence(), { siteId, visitor: path.visitor, visit: path.visit }),
)
