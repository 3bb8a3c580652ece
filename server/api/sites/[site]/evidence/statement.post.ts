import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'

export default defineOperation('stateReport', async ({ siteId, body }) => ({
  sql: await evidence().statement(siteId, body.report, body.question as never),
}))
