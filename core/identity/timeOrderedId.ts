const TIME_ORDERED = /^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/

/**
 * An id that carries its own time and sorts by it: a UUID of version 7 (RFC 9562, 5.7).
 *
 * @param at - time in ms since 1970, 0 to 2^48 − 1
 * @param counter - orders ids of the same millisecond, 0 to 4,095
 * @param random - eight random bytes
 * @example timeOrderedId(0x019a_0000_0000, 1, new Uint8Array(8)) // '019a0000-0000-7001-8000-000000000000'
 */
export function timeOrderedId(at: number, counter: number, random: Uint8Array): string {
  const time = Math.floor(at).toString(16).padStart(12, '0')
  const tail = [...random].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  const variant = (8 | (random[0]! & 3)).toString(16)
  const order = counter.toString(16).padStart(3, '0')
  return `${time.slice(0, 8)}-${time.slice(8)}-7${order}-${variant}${tail.slice(1, 4)}-${tail.slice(4, 16)}`
}

/** Whether a text is an id as `timeOrderedId` makes them, in lower case. */
export function isTimeOrderedId(text: string): boolean {
  return TIME_ORDERED.test(text)
}

/** The time that an id carries, in ms since 1970. */
export function timeOfId(id: string): number {
  return parseInt(id.slice(0, 8) + id.slice(9, 13), 16)
}

/** The smallest id of a time: the bound of a range of ids. */
export function firstIdAt(at: number): string {
  const time = Math.floor(at).toString(16).padStart(12, '0')
  return `${time.slice(0, 8)}-${time.slice(8)}-0000-0000-000000000000`
}
