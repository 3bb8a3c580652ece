import { getRequestIP } from 'h3'
import { defineOperation } from '~~/server/routing/operation'
import { accountSession } from '~~/server/routing/session'
import { accountView, findByPassword } from '~~/server/services/accounts/accounts'
import { signInThrottle } from '~~/server/services/accounts/throttle'
import { HttpProblem } from '~~/server/services/HttpProblem'

export default defineOperation('signIn', async ({ event, database, body }) => {
  const address = getRequestIP(event) ?? 'unknown'
  const throttle = signInThrottle(database.$client)
  await throttle.attempt(body.email, address)
  const person = await findByPassword(database, body.email, body.password)
  if (!person) throw new HttpProblem(401, 'E-mail address and password do not belong together. Check both.')
  await throttle.succeeded(body.email, address)
  await (await accountSession(event)).update({ personId: person.id })
  return accountView(database, person)
})
