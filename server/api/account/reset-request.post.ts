import { defineOperation } from '~~/server/http/operation'
import { sourceAddress } from '~~/server/http/requestOrigin'
import { sendReset } from '~~/server/services/accounts/passwordReset'
import { countLetter } from '~~/server/services/accounts/throttle'

export default defineOperation('requestReset', async ({ event, database, body: { email } }) => {
  await countLetter(database.$client, email, sourceAddress(event))
  // The answer does not wait: it is the same, and as fast, for an address that has no account.
  sendReset(database, useRuntimeConfig(), email).catch((error: Error) =>
    console.error(`A new password could not be prepared: ${error.message}`),
  )
  return { asked: true }
})
