import { defineOperation } from '~~/server/http/operation'
import { listHypotheses } from '~~/server/services/hypotheses/hypotheses'

export default defineOperation('listHypotheses', ({ database, siteId }) => listHypotheses(database, siteId, new Date()))
