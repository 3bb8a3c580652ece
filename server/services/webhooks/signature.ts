import { createHmac } from 'node:crypto'

/**
 * Signs a message to a webhook: HMAC-SHA256 over its moment, a point and its body, as hexadecimal digits.
 *
 * @param seconds - when it is sent, since 1970: an old message that is sent again by somebody else is known by it
 * @see RFC 2104
 */
export function signatureOf(secret: string, seconds: number, body: string): string {
  return createHmac('sha256', secret).update(`${seconds}.${body}`).digest('hex')
}
