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
  uuid: () => string
}

const ALPHABET = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'

export function createRandom(seed: number): Random {
  const uniform = seededUniform(seed)
  const between = (low: number, high: number) => low + uniform() * (high - low)
  const hex = (length: number) => Array.from({ length }, () => Math.floor(uniform() * 16).toString(16)).join('')
  return {
    uniform,
    between,
    chance: (probability) => uniform() < probability,
    pick: <Key extends string>(weights: Readonly<Record<Key, number>>) => {
      const entries = Object.entries<number>(weights)
      let left = uniform() * entries.reduce((sum, [, weight]) => sum + weight, 0)
      for (const [key, weight] of entries) if ((left -= weight) < 0) return key as Key
      return entries.at(-1)![0] as Key
    },
    id: (length) => Array.from({ length }, () => ALPHABET[Math.floor(uniform() * ALPHABET.length)]).join(''),
    uuid: () => `${hex(8)}-${hex(4)}-4${hex(3)}-${'89ab'[Math.floor(uniform() * 4)]}${hex(3)}-${hex(12)}`,
  }
}
