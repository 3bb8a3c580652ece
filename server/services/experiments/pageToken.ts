import { createHmac, timingSafeEqual } from 'node:crypto'

/** What a page of a site is opened for. */
export type PagePurpose = 'pointing' | 'preview' | 'device' | 'panel'

/**
 * A token that opens the pages of one site for a purpose until a moment, on behalf of something with a number: a
 * person's session, a preview, or a pinned device.
 *
 * @param expires - in ms since 1970
 */
export function pageToken(purpose: PagePurpose, key: string, id: number, expires: number, secret: string): string {
  return `${expires}.${id}.${sign(purpose, key, id, expires, secret)}`
}

/** What a token says, if it was given out for this purpose and site; null for one that is forged. */
export function readPageToken(
  purpose: PagePurpose,
  key: string,
  token: string,
  secret: string,
): { id: number; expires: number } | null {
  const [expires, id, signature] = token.split('.', 3)
  if (!expires || !id || !signature) return null
  const expected = Buffer.from(sign(purpose, key, Number(id), Number(expires), secret))
  const given = Buffer.from(signature)
  if (expected.length !== given.length || !timingSafeEqual(expected, given)) return null
  return { id: Number(id), expires: Number(expires) }
}

function sign(purpose: PagePurpose, key: string, id: number, expires: number, secret: string): string {
  return createHmac('sha256', secret).update(`${purpose} ${key} ${id} ${expires}`).digest('base64url')
}
