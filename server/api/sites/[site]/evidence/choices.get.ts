import { evidence } from '~~/server/routing/evidenceThread'
import { defineOperation } from '~~/server/routing/operation'
import { readEvidenceChoices } from '~~/server/services/evidence/choices'

export default defineOperation('readEvidenceChoices', ({ database, siteId }) =>
  readEvidenceChoices(database, evidence(), siteId, new Date()),
)
