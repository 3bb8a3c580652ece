import logGamma from '@stdlib/math-base-special-gammaln'
import normal from '@stdlib/random-base-normal'

/** Draws from distributions, all from one generator of uniform numbers. */
export interface Draws {
  /** Successes in n trials. */
  binomial: (trials: number, probability: number) => number
  normal: (mean: number, deviation: number) => number
}

/** @param uniform - seeded generator of numbers in [0, 1) */
export function drawsFrom(uniform: () => number): Draws {
  const drawNormal = normal.factory({ prng: uniform as never })
  return {
    binomial: (trials, probability) => drawBinomial(trials, probability, uniform),
    normal: (mean, deviation) => (deviation > 0 ? drawNormal(mean, deviation) : mean),
  }
}

// Not the library's: its draws of many trials came out half a success too high.
function drawBinomial(trials: number, probability: number, uniform: () => number): number {
  if (trials === 0 || probability <= 0) return 0
  if (probability >= 1) return trials
  if (probability > 0.5) return trials - drawBinomial(trials, 1 - probability, uniform)
  return trials * probability < 10
    ? binomialByInversion(trials, probability, uniform)
    : binomialByRejection(trials, probability, uniform)
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

/**
 * Binomial draw by transformed rejection, for at least 10 expected successes and a probability up to one half.
 *
 * @see Hörmann (1993), The generation of binomial random variates, algorithm BTRS
 */
function binomialByRejection(trials: number, probability: number, uniform: () => number): number {
  const deviation = Math.sqrt(trials * probability * (1 - probability))
  const b = 1.15 + 2.53 * deviation
  const a = -0.0873 + 0.0248 * b + 0.01 * probability
  const center = trials * probability + 0.5
  const quick = 0.92 - 4.2 / b
  for (;;) {
    const u = uniform() - 0.5
    const v = uniform()
    const edge = 0.5 - Math.abs(u)
    const successes = Math.floor(((2 * a) / edge + b) * u + center)
    if (edge >= 0.07 && v <= quick) return successes
    if (successes < 0 || successes > trials) continue
    const mode = Math.floor((trials + 1) * probability)
    const alpha = (2.83 + 5.1 / b) * deviation
    const logRatio =
      logGamma(mode + 1) +
      logGamma(trials - mode + 1) -
      logGamma(successes + 1) -
      logGamma(trials - successes + 1) +
      (successes - mode) * Math.log(probability / (1 - probability))
    if (Math.log((v * alpha) / (a / (edge * edge) + b)) <= logRatio) return successes
  }
}
