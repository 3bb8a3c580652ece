import { createHmac, timingSafeEqual } from 'node:crypto'
import type { PointingSession } from '../../../shared/experiment'

const MINUTES = 60

/**
 * A short-lived token that lets one site's pages be opened for pointing, by whoever is signed in with one session: it
 * ends with that session.
 */
export function openPointing(
  site: { id: number; key: string; address: string },
  sessionId: number,
  path: string,
  secret: string,
  now: number,
): PointingSession {
  const expires = now + MINUTES * 60_000
  const token = `${expires}.${sessionId}.${sign(site.key, sessionId, expires, secret)}`
  const address = new URL(path, site.address)
  if (address.origin !== new URL(site.address).origin)
    throw new RangeError('A page that is pointed at lies on its own site.')
  address.hash = `vetch-point=${token}`
  return { token, address: address.href, expiresAt: new Date(expires).toISOString() }
}

/**
 * The session that a token was given out to, for the site of a key.
 *
 * @returns null for a token that is forged, of another site, or has run out
 */
export function sessionOfPointing(key: string, token: string, secret: string, now: number): number | null {
  const [expires, session, signature] = token.split('.', 3)
  if (!expires || !session || !signature || !(Number(expires) > now)) return null
  const expected = Buffer.from(sign(key, Number(session), Number(expires), secret))
  const given = Buffer.from(signature)
  return expected.length === given.length && timingSafeEqual(expected, given) ? Number(session) : null
}

function sign(key: string, sessionId: number, expires: number, secret: string): string {
  return createHmac('sha256', secret).update(`pointing ${key} ${sessionId} ${expires}`).digest('base64url')
}
