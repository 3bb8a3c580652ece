import { murmurHash3OfBytes, utf8 } from '../../core/assignment/murmurHash3'

/**
 * Which visitors were met before, in 16 bytes each: two 32-bit hashes with different seeds in an open-addressed table.
 * Two different ids of ten million fall together with a probability of 3 in a million.
 */
export class SeenVisitors {
  private table = new Uint32Array(2 << 16)
  private size = 0

  /** True when the visitor was met before; else the visitor is now. */
  addOrFind(visitor: string): boolean {
    if (this.size * 4 > this.table.length) this.grow()
    const bytes = utf8(visitor)
    // Zero marks an empty place.
    const isNew = insert(this.table, murmurHash3OfBytes(bytes, 0x5eed) || 1, murmurHash3OfBytes(bytes, 0xfee1))
    if (isNew) this.size++
    return !isNew
  }

  private grow(): void {
    const larger = new Uint32Array(this.table.length * 2)
    for (let at = 0; at < this.table.length; at += 2) {
      if (this.table[at] !== 0) insert(larger, this.table[at]!, this.table[at + 1]!)
    }
    this.table = larger
  }
}

function insert(table: Uint32Array, first: number, second: number): boolean {
  const mask = table.length - 1
  let at = (second * 2) & mask
  while (table[at] !== 0) {
    if (table[at] === first && table[at + 1] === second) return false
    at = (at + 2) & mask
  }
  table[at] = first
  table[at + 1] = second
  return true
}
