import { useRuntimeConfig } from '#imports'
import { defineEventHandler, getQuery, setHeader } from 'h3'
import { database } from '~~/server/database/database'
import { answerProblem } from '~~/server/routing/answerProblem'
import { deliveryFile } from '~~/server/routing/deliveryFile'
import { isOpenSession } from '~~/server/services/accounts/sessions'
import { sessionOfPointing } from '~~/server/services/experiments/pointing'

/** Access: anyone with a valid token of somebody who is still signed in; see the operation `readOverlay`. */
export default defineEventHandler(async (event) => {
  const { key, token } = getQuery(event)
  const session = sessionOfPointing(String(key), String(token), useRuntimeConfig(event).sessionPassword, Date.now())
  if (session === null || !(await isOpenSession(database(), session))) {
    return answerProblem(event, 403, 'This pointing session has run out. Open the page from the sheet again.')
  }
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  setHeader(event, 'cache-control', 'no-store')
  return deliveryFile('overlay.js')
})
