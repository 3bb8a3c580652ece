/**
 * MurmurHash3, the x86 variant with 32 bits, of a text's UTF-8 bytes.
 *
 * @param text - any text
 * @param seed - unsigned 32-bit integer (default 0)
 * @returns unsigned 32-bit integer
 * @example murmurHash3('hello') // 613153351
 * @see Austin Appleby (2011), MurmurHash3_x86_32, public domain
 */
export function murmurHash3(text: string, seed = 0): number {
  return murmurHash3OfBytes(utf8(text), seed)
}

/** The bytes that `murmurHash3` hashes: whoever asks several questions of one text encodes it once. */
export function utf8(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length)
  for (let index = 0; index < text.length; index++) {
    const code = text.charCodeAt(index)
    if (code > 127) return new TextEncoder().encode(text)
    bytes[index] = code
  }
  return bytes
}

/** MurmurHash3 of bytes; see `murmurHash3`. */
export function murmurHash3OfBytes(bytes: Uint8Array, seed: number): number {
  const length = bytes.length
  const blocksEnd = length & ~3
  let hash = seed | 0

  for (let i = 0; i < blocksEnd; i += 4) {
    const block = bytes[i]! | (bytes[i + 1]! << 8) | (bytes[i + 2]! << 16) | (bytes[i + 3]! << 24)
    hash ^= scramble(block)
    hash = (hash << 13) | (hash >>> 19)
    hash = (Math.imul(hash, 5) + 0xe6546b64) | 0
  }

  let tail = 0
  if (length & 2) tail = bytes[blocksEnd]! | (bytes[blocksEnd + 1]! << 8)
  if (length & 1) tail |= bytes[length - 1]! << (length & 2 ? 16 : 0)
  if (length & 3) hash ^= scramble(tail)

  hash ^= length
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}

function scramble(block: number): number {
  const mixed = Math.imul(block, 0xcc9e2d51)
  return Math.imul((mixed << 15) | (mixed >>> 17), 0x1b873593)
}
