import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'

export default defineOperation('stateReport', async ({ siteId, body }) => ({
  sql: await evidence().statement(siteId, body.report, body.question as never),
}))
