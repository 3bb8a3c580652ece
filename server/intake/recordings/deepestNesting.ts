const QUOTE = 0x22
const BACKSLASH = 0x5c
const OPENING = new Set([0x5b, 0x7b])
const CLOSING = new Set([0x5d, 0x7d])

/**
 * How deep lists and objects of a JSON text lie in each other, told without reading it: whatever is nested without end
 * costs far more to read than to send.
 *
 * @param json - UTF-8, perhaps no JSON at all
 * @returns 0 for a plain value; 2 for `[{}]`
 */
export function deepestNesting(json: Uint8Array): number {
  let depth = 0
  let deepest = 0
  let isText = false
  for (let index = 0; index < json.length; index++) {
    const byte = json[index]!
    if (isText) {
      if (byte === BACKSLASH) index++
      else if (byte === QUOTE) isText = false
    } else if (byte === QUOTE) isText = true
    else if (OPENING.has(byte)) deepest = Math.max(deepest, ++depth)
    else if (CLOSING.has(byte)) depth--
  }
  return deepest
}
