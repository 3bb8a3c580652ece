import { seededUniform } from '../../core/random/seededUniform'

/** Draws from a seed: the same on every machine. */
export interface Random {
  /** Uniform in [0, 1). */
  uniform: () => number
  chance: (probability: number) => boolean
  between: (low: number, high: number) => number
  /** One of the keys, with a probability in proportion to its weight. */
  pick: <Key extends string>(weights: Readonly<Record<Key, number>>) => Key
  /** Text of letters and digits. */
  id: (length: number) => string
  bytes: (length: number) => Uint8Array
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'
/** How many letters, and how many bytes, one draw gives without running out of digits. */
const LETTERS_A_DRAW = 6
const BYTES_A_DRAW = 4

export function createRandom(seed: number): Random {
  const uniform = seededUniform(seed)
  return {
    uniform,
    between: (low, high) => low + uniform() * (high - low),
    chance: (probability) => uniform() < probability,
    pick: <Key extends string>(weights: Readonly<Record<Key, number>>) => {
      let total = 0
      for (const key in weights) total += weights[key]
      let left = uniform() * total
      let last!: Key
      for (const key in weights) {
        last = key
        if ((left -= weights[key]) < 0) break
      }
      return last
    },
    id(length) {
      let text = ''
      for (let place = 0, drawn = 0; place < length; place++) {
        if (place % LETTERS_A_DRAW === 0) drawn = uniform()
        drawn *= ALPHABET.length
        const letter = Math.floor(drawn)
        drawn -= letter
        text += ALPHABET[letter]
      }
      return text
    },
    bytes(length) {
      const bytes = new Uint8Array(length)
      for (let place = 0, drawn = 0; place < length; place++) {
        if (place % BYTES_A_DRAW === 0) drawn = Math.floor(uniform() * 0x1_0000_0000)
        bytes[place] = drawn & 0xff
        drawn >>>= 8
      }
      return bytes
    },
  }
}
