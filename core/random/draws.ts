import binomial from '@stdlib/random-base-binomial'
import normal from '@stdlib/random-base-normal'

/** Draws from distributions, all from one generator of uniform numbers. */
export interface Draws {
  /** Successes in n trials. */
  binomial: (trials: number, probability: number) => number
  normal: (mean: number, deviation: number) => number
}

/** @param uniform - seeded generator of numbers in [0, 1) */
export function drawsFrom(uniform: () => number): Draws {
  const large = binomial.factory({ prng: uniform as never })
  const drawNormal = normal.factory({ prng: uniform as never })
  return {
    binomial(trials, probability) {
      if (trials === 0 || probability <= 0) return 0
      if (probability >= 1) return trials
      if (probability > 0.5) return trials - drawBinomial(trials, 1 - probability)
      return drawBinomial(trials, probability)
    },
    normal: (mean, deviation) => (deviation > 0 ? drawNormal(mean, deviation) : mean),
  }

  function drawBinomial(trials: number, probability: number): number {
    return trials * probability < 10 ? binomialByInversion(trials, probability, uniform) : large(trials, probability)
  }
}

/**
 * Binomial draw by sequential search from zero: fast where few successes are expected.
 *
 * @see Kachitvichyanukul, Schmeiser (1988), Binomial random variate generation, algorithm BINV
 */
function binomialByInversion(trials: number, probability: number, uniform: () => number): number {
  const odds = probability / (1 - probability)
  let mass = Math.exp(trials * Math.log1p(-probability))
  let left = uniform()
  let successes = 0
  while (left > mass && successes < trials) {
    left -= mass
    successes++
    mass *= (odds * (trials - successes + 1)) / successes
  }
  return successes
}
