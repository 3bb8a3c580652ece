import { useRuntimeConfig } from '#imports'
import { defineEventHandler, getQuery, getRouterParam, setHeader } from 'h3'
import { ValidationError } from 'yup'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/http/answerProblem'
import { deliveryFile } from '~~/server/http/deliveryFile'
import { requestOrigin } from '~~/server/http/requestOrigin'
import { trustedOrigins } from '~~/server/http/trustedOrigins'
import { isMemberBySession } from '~~/server/services/accounts/sessions'
import { readPageCopy, sessionOfPointing } from '~~/server/services/experiments/pointing'
import { HttpProblem } from '~~/server/services/HttpProblem'
import { toldDeviceOf, toldDeviceSchema } from '~~/shared/delivery/toldDevice'

/** What stands in it is not ours: it has no origin, and so neither cookies nor a say in Vetch. */
const WITHOUT_ORIGIN = "sandbox allow-scripts allow-forms; frame-ancestors 'self'"

/** Access: anyone with a valid token of somebody who is still signed in; see the operation `readPageCopy`. */
export default defineEventHandler(async (event) => {
  const key = getRouterParam(event, 'key') ?? ''
  const asked = getQuery(event)
  const { token, path } = asked
  const { sessionPassword } = useRuntimeConfig(event)
  const session = sessionOfPointing(key, String(token), sessionPassword, Date.now())
  if (session === null || !(await isMemberBySession(database(), session, key)))
    return answerProblem(event, 403, 'This pointing session has run out. Open the page from the sheet again.')
  setHeader(event, 'content-security-policy', WITHOUT_ORIGIN)
  setHeader(event, 'cache-control', 'no-store')
  try {
    const wanted = { key, token: String(token), path: String(path), ownOrigin: requestOrigin(event) }
    const device = toldDeviceOf(await toldDeviceSchema.validate(asked, { stripUnknown: true }))
    const as = device && { device, script: await deliveryFile('device.js') }
    const copy = await readPageCopy(database(), wanted, trustedOrigins(event), as)
    setHeader(event, 'content-type', 'text/html; charset=utf-8')
    return copy
  } catch (error) {
    if (error instanceof ValidationError) return answerProblem(event, 422, error.message)
    if (!(error instanceof HttpProblem)) throw error
    return answerProblem(event, error.status, error.message)
  }
})
