import { defineOperation } from '~~/server/http/operation'
import { findSimilar } from '~~/server/services/hypotheses/archiveAnswers'

export default defineOperation('findSimilar', ({ database, siteId, query }) => findSimilar(database, siteId, query))
