import { createHmac, timingSafeEqual } from 'node:crypto'
import type { PointingSession } from '../../../shared/experiment'

const MINUTES = 20

/** A short-lived token that lets one site's pages be opened for pointing. */
export function openPointing(
  site: { id: number; key: string; address: string },
  path: string,
  secret: string,
  now: number,
): PointingSession {
  const expires = now + MINUTES * 60_000
  const token = `${expires}.${sign(site.key, expires, secret)}`
  const address = new URL(path, site.address)
  address.hash = `vetch-point=${token}`
  return { token, address: address.href, expiresAt: new Date(expires).toISOString() }
}

/** Whether a token was given out for the site of a key and has not run out. */
export function isPointingToken(key: string, token: string, secret: string, now: number): boolean {
  const [expires, signature] = token.split('.', 2)
  if (!expires || !signature || !(Number(expires) > now)) return false
  const expected = Buffer.from(sign(key, Number(expires), secret))
  const given = Buffer.from(signature)
  return expected.length === given.length && timingSafeEqual(expected, given)
}

function sign(key: string, expires: number, secret: string): string {
  return createHmac('sha256', secret).update(`pointing ${key} ${expires}`).digest('base64url')
}
