import { probabilityBest, type Direction, type Posterior } from '../statistics/posterior'
import { sampleVariance, type Moments } from '../statistics/moments'

/** What a period is followed by. */
export interface NextShares {
  /** Of new visitors, the control first; together 1. */
  shares: number[]
  /** Of each arm, the chance to be the best of all. */
  chances: number[]
}

/** Visitors with a value, in all arms together, before weights move at all. */
const LEAST_ACTIVE = 20
/** Shares are told to browsers in ten-thousandths. */
const STEPS = 10_000

/**
 * The shares of new visitors in the next period, by Thompson sampling: each arm gets visitors as often as it is the best
 * when effects are drawn from what is known, and never less than a floor.
 *
 * Posteriors are normal, with the variance that all arms have in common, so that an arm of few visitors in which nothing
 * has happened yet is not certain of anything.
 *
 * @param arms - moments of the metric's value, with the periods taken apart (see `weightedMoments`)
 * @param plain - the same visitors as counted
 * @param active - visitors of all arms together whose value is not zero
 * @param floor - least share of each arm, from 0 to 1 / arms
 * @param direction - whether more or less of the metric is better
 * @returns null while too little has happened to move anything
 * @throws RangeError for a floor that the arms cannot all have
 * @see Thompson (1933), On the likelihood that one unknown probability exceeds another, Biometrika 25; Scott (2010), A
 *   modern Bayesian look at the multi-armed bandit, for whole batches by these probabilities
 */
export function nextShares(
  arms: readonly Moments[],
  plain: readonly Moments[],
  active: number,
  floor: number,
  direction: Direction,
): NextShares | null {
  if (!(floor >= 0 && floor * arms.length <= 1)) throw new RangeError('The floor must leave each arm its share.')
  const variance = pooledVariance(plain)
  if (active < LEAST_ACTIVE || !(variance > 0) || arms.some(({ count }) => count < 2)) return null
  const posteriors = arms.map((arm, index): Posterior => {
    const own = sampleVariance(arm) / arm.count
    // How much wider the periods make it than the same visitors of one period.
    const spread = sampleVariance(plain[index]!) > 0 ? (own * arm.count) / sampleVariance(plain[index]!) : 1
    return { family: 'normal', mean: arm.means[0]!, variance: (variance * Math.max(1, spread)) / arm.count }
  })
  const chances = normalized(probabilityBest(posteriors, direction))
  return { shares: inSteps(chances.map((chance) => floor + (1 - floor * arms.length) * chance)), chances }
}

/** Shares in ten-thousandths, together exactly 1. */
function inSteps(shares: readonly number[]): number[] {
  const steps = shares.map((share) => Math.max(1, Math.floor(share * STEPS + 1e-6)))
  steps[steps.indexOf(Math.max(...steps))]! += STEPS - steps.reduce((sum, step) => sum + step, 0)
  return steps.map((step) => step / STEPS)
}

function normalized(chances: readonly number[]): number[] {
  const total = chances.reduce((sum, chance) => sum + chance, 0)
  return chances.map((chance) => chance / total)
}

function pooledVariance(arms: readonly Moments[]): number {
  const freedom = arms.reduce((sum, { count }) => sum + Math.max(0, count - 1), 0)
  return freedom === 0 ? 0 : arms.reduce((sum, { comoments }) => sum + comoments[0]!, 0) / freedom
}
