import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { closeHoldout } from '~~/server/services/traffic/holdouts'

export default defineOperation('closeHoldout', ({ database, siteId, personId, path }) =>
  closeHoldout({ database, evidence: evidence(), siteId }, personId, path.holdout, new Date()),
)
