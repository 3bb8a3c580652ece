import { evidence } from '~~/server/http/evidenceThread'
import { defineOperation } from '~~/server/http/operation'
import { findFinding } from '~~/server/services/findings/findings'
import { askAgain } from '~~/server/services/findings/frozenView'
import { HttpProblem } from '~~/server/services/HttpProblem'

export default defineOperation('readFindingNow', async ({ database, siteId, path }) => {
  const { frozen } = await findFinding(database, siteId, path.finding)
  if (!frozen) throw new HttpProblem(404, 'This finding has no figures that could be asked again.')
  return askAgain({ database, evidence: evidence(), siteId }, frozen, new Date())
})
