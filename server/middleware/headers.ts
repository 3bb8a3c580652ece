import { defineEventHandler, setResponseHeaders } from 'h3'
import { isEncrypted } from '../http/requestOrigin'

/** What customers' pages load has to be loadable from anywhere. */
const FOR_CUSTOMERS = /^\/(s\/|collect|record|overlay\.js|recorder\.js|pictures\/|copies\/)/

/** Headers that every answer of the application carries. */
export default defineEventHandler((event) => {
  setResponseHeaders(event, { 'x-content-type-options': 'nosniff', 'referrer-policy': 'same-origin' })
  if (FOR_CUSTOMERS.test(event.path)) return
  setResponseHeaders(event, {
    'x-frame-options': 'DENY',
    // Pages that are pointed at may stand in a window that Vetch opens, and must be able to answer.
    'cross-origin-opener-policy': 'same-origin-allow-popups',
    ...(event.path.startsWith('/api/')
      ? { 'content-security-policy': "default-src 'none'; frame-ancestors 'none'", 'cache-control': 'no-store' }
      : {}),
    ...(isEncrypted(event) ? { 'strict-transport-security': 'max-age=31536000' } : {}),
  })
})
