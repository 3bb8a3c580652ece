import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { readHoldout } from '~~/server/services/traffic/readHoldout'

export default defineOperation('readHoldout', ({ database, siteId, path }) =>
  readHoldout({ database, evidence: evidence(), siteId }, path.holdout, new Date()),
)
