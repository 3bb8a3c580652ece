import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { readRefusals } from '~~/server/services/evidence/choices'

export default defineOperation('reportEvents', async ({ database, siteId, query }) => ({
  ...(await evidence().ask(siteId, 'events', query)),
  refusals: await readRefusals(database, siteId, query),
}))
