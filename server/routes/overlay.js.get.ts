import { useRuntimeConfig } from '#imports'
import { createError, defineEventHandler, getQuery, setHeader } from 'h3'
import { deliveryFile } from '~~/server/routing/deliveryFile'
import { isPointingToken } from '~~/server/services/experiments/pointing'

/** Access: anyone with a valid token; see the operation `readOverlay`. */
export default defineEventHandler((event) => {
  const { key, token } = getQuery(event)
  if (!isPointingToken(String(key), String(token), useRuntimeConfig(event).sessionPassword, Date.now())) {
    throw createError({
      statusCode: 403,
      message: 'This pointing session has run out. Open the page from the sheet again.',
    })
  }
  setHeader(event, 'content-type', 'text/javascript; charset=utf-8')
  setHeader(event, 'cache-control', 'no-store')
  return deliveryFile('overlay.js')
})
