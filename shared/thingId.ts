const LETTERS = 'abcdefghijklmnopqrstuvwxyz0123456789'

/** An id for a new thing on a sheet: 16 letters and digits drawn at random, 82 bits. */
export function drawThingId(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => LETTERS[byte % LETTERS.length]).join('')
}
