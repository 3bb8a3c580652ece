import { defineOperation } from '~~/server/http/operation'
import { sourceAddress } from '~~/server/http/requestOrigin'
import { deviceSecret, signInHere } from '~~/server/http/session'
import { accountView, findByPassword } from '~~/server/services/accounts/accounts'
import { hashSecret, isKnownDevice } from '~~/server/services/accounts/sessions'
import { countAttempt, forgiveAttempt } from '~~/server/services/accounts/throttle'
import { HttpProblem } from '~~/server/services/HttpProblem'

export default defineOperation('signIn', async ({ event, database, body: { email, password } }) => {
  const device = deviceSecret(event)
  const knownDevice = device && (await isKnownDevice(database, email, device)) ? hashSecret(device) : null
  const attempt = { email, source: sourceAddress(event), knownDevice }
  await countAttempt(database.$client, attempt)
  const person = await findByPassword(database, email, password)
  if (!person) throw new HttpProblem(401, 'E-mail address and password do not belong together. Check both.')
  await forgiveAttempt(database.$client, attempt)
  await signInHere(event, person.id)
  return accountView(database, person)
})
