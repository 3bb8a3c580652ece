import { defineOperation } from '~~/server/routing/operation'
import { findSimilar } from '~~/server/services/hypotheses/archiveAnswers'

export default defineOperation('findSimilar', ({ database, siteId, query }) => findSimilar(database, siteId, query))
