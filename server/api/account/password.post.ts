import { defineOperation } from '~~/server/http/operation'
import { sourceAddress } from '~~/server/http/requestOrigin'
import { changePassword } from '~~/server/services/accounts/profile'
import { countAttempt, forgiveAttempt } from '~~/server/services/accounts/throttle'

export default defineOperation('changePassword', async ({ event, database, person, sessionId, body }) => {
  // Whoever has found an open browser may not guess here without end either.
  const attempt = { email: person!.email, source: sourceAddress(event), knownDevice: null }
  await countAttempt(database.$client, attempt)
  await changePassword(database, { personId: person!.id, sessionId }, body)
  await forgiveAttempt(database.$client, attempt)
  return { changed: true }
})
