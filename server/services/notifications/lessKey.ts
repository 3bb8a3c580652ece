import { createHmac, timingSafeEqual } from 'node:crypto'

/** The secret of a letter's link to hear less: it opens nothing else. */
export function lessKey(letterId: number, secret: string): string {
  return `${letterId}.${createHmac('sha256', secret).update(`less ${letterId}`).digest('base64url')}`
}

/** The letter that a key belongs to; null for one that is none of ours. */
export function letterOfKey(key: string, secret: string): number | null {
  const id = Number(/^([1-9]\d{0,9})\./.exec(key)?.[1])
  if (!(id <= 2_147_483_647)) return null
  const [given, own] = [Buffer.from(key), Buffer.from(lessKey(id, secret))]
  return given.length === own.length && timingSafeEqual(given, own) ? id : null
}
