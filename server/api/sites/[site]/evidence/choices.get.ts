import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { readEvidenceChoices } from '~~/server/services/evidence/choices'

export default defineOperation('readEvidenceChoices', ({ database, siteId }) =>
  readEvidenceChoices(database, evidence(), siteId, new Date()),
)
