/**
 * An address taken apart; null for what is none.
 *
 * @example readUrl('https://a.test/b?c=1')?.pathname // '/b'
 */
export function readUrl(address: string): URL | null {
  try {
    return new URL(address)
  } catch {
    return null
  }
}

/**
 * A text of an address as people type it; itself where it is not encoded well.
 *
 * @example decoded('/%C3%BCber-uns') // '/über-uns'
 */
export function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}
