import { defineOperation } from '~~/server/http/operation'
import { sessionsOf } from '~~/server/services/accounts/sessions'

export default defineOperation('listSessions', ({ database, personId, sessionId, query }) =>
  sessionsOf(database, personId!, sessionId, query),
)
