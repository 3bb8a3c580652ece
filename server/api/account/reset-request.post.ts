import { resetLetter } from '~~/server/mail/letters'
import { sendLetter } from '~~/server/mail/sendLetter'
import { defineOperation } from '~~/server/routing/operation'
import { sourceAddress } from '~~/server/routing/requestOrigin'
import { createReset } from '~~/server/services/accounts/passwordReset'
import { countLetter } from '~~/server/services/accounts/throttle'

export default defineOperation('requestReset', async ({ event, database, body: { email } }) => {
  await countLetter(database.$client, email, sourceAddress(event))
  const { ownOrigin, smtpUrl, mailFrom } = useRuntimeConfig()
  const made = await createReset(database, email)
  // The answer is the same, and as fast, for an address that has no account.
  if (made) void sendLetter({ smtpUrl, mailFrom }, made.email, resetLetter(`${ownOrigin}/reset#${made.secret}`))
  return { asked: true }
})
