import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/**
 * A generator of uniform numbers in [0, 1): the same from the same seed on every machine.
 *
 * @param seed - integer
 * @see Blackman, Vigna (2021), Scrambled linear pseudorandom number generators
 */
export function seededUniform(seed: number): () => number {
  const generator = xoroshiro128plus(seed)
  return () => uniformFloat64(generator)
}
