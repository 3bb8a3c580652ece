import { defineOperation } from '~~/server/http/operation'
import { readThread } from '~~/server/services/hypotheses/archiveAnswers'

export default defineOperation('readThread', ({ database, siteId, query }) => readThread(database, siteId, query))
