import { defineOperation } from '~~/server/http/operation'
import { sourceAddress } from '~~/server/http/requestOrigin'
import { signInHere } from '~~/server/http/session'
import { accountView } from '~~/server/services/accounts/accounts'
import { acceptInvitation, readInvitation } from '~~/server/services/accounts/invitations'
import { countAttempt, forgiveAttempt } from '~~/server/services/accounts/throttle'

export default defineOperation('acceptInvitation', async ({ event, database, body }) => {
  const { email } = await readInvitation(database, body.key)
  const attempt = { email, source: sourceAddress(event), knownDevice: null }
  await countAttempt(database.$client, attempt)
  const joined = await acceptInvitation(database, body)
  await forgiveAttempt(database.$client, attempt)
  await signInHere(event, joined.id)
  return accountView(database, joined)
})
