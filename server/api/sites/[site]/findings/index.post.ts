import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { createFinding } from '~~/server/services/findings/findings'
import { freezeView } from '~~/server/services/findings/frozenView'

export default defineOperation('createFinding', async ({ database, siteId, personId, body }) => {
  const place = { database, evidence: evidence(), siteId }
  const frozen = body.frozen ? await freezeView(place, body.frozen, new Date()) : null
  return createFinding(database, siteId, personId, { ...body, frozen })
})
