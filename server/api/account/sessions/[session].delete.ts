import { defineOperation } from '~~/server/http/operation'
import { endSession } from '~~/server/services/accounts/sessions'
import { HttpProblem } from '~~/server/services/HttpProblem'

export default defineOperation('endSession', async ({ database, personId, path }) => {
  if (!(await endSession(database, personId!, path.session)))
    throw new HttpProblem(404, 'This session has ended already.')
  return { ended: true }
})
