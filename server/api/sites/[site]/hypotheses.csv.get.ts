import { defineOperation } from '~~/server/http/operation'
import { sendTable } from '~~/server/http/sendTable'
import { listHypotheses } from '~~/server/services/hypotheses/hypotheses'
import { hypothesesTable } from '~~/server/services/hypotheses/table'

export default defineOperation('exportHypotheses', async ({ event, database, siteId }) => {
  const view = await listHypotheses(database, siteId, new Date())
  return sendTable(event, 'hypotheses', await hypothesesTable(database, siteId, view))
})
