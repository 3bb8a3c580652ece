import gammaln from '@stdlib/math-base-special-gammaln'
import { chiSquareUpperTail } from './distributions'

/** Concentration of the Dirichlet prior around the weights, in pseudo-visitors an arm of average weight. */
const CONCENTRATION = 100
/** The always-valid p-value below which the allocation is held to be broken. */
export const ALLOCATION_ALARM = 0.001

export interface AllocationCheck {
  observed: number[]
  expected: number[]
  chiSquare: number
  degreesOfFreedom: number
  /** Valid when looked at once. */
  pValue: number
  /** Valid however often it is looked at. */
  sequentialPValue: number
  alarm: boolean
}

/**
 * Sample ratio mismatch: do the arms hold the shares of visitors that their weights say?
 *
 * @param visitors - visitors in each arm
 * @param weights - relative weight of each arm, all above zero
 * @throws RangeError when a weight is not above zero or the lists differ in length
 * @see Pearson (1900); Lindon, Malek (2020), Anytime-valid inference for multinomial count data, eq. 4
 *   (Bayes factor of a Dirichlet alternative, centered on the weights, against the weights)
 */
export function checkAllocation(visitors: readonly number[], weights: readonly number[]): AllocationCheck {
  if (visitors.length !== weights.length) throw new RangeError('Every arm needs a weight.')
  const totalWeight = weights.reduce((sum, weight) => sum + weight, 0)
  if (weights.some((weight) => !(weight > 0))) throw new RangeError('Weights must be above zero.')
  const total = visitors.reduce((sum, count) => sum + count, 0)
  const shares = weights.map((weight) => weight / totalWeight)
  const expected = shares.map((share) => share * total)
  const degreesOfFreedom = visitors.length - 1
  const chiSquare =
    total === 0 ? 0 : visitors.reduce((sum, count, arm) => sum + (count - expected[arm]!) ** 2 / expected[arm]!, 0)
  const sequentialPValue = alwaysValidAllocationPValue(visitors, weights)
  return {
    observed: [...visitors],
    expected,
    chiSquare,
    degreesOfFreedom,
    pValue: degreesOfFreedom === 0 ? 1 : chiSquareUpperTail(chiSquare, degreesOfFreedom),
    sequentialPValue,
    alarm: sequentialPValue < ALLOCATION_ALARM,
  }
}

/**
 * The allocation check's p-value alone, valid however often it is looked at: 1/BF of a Dirichlet alternative that is
 * centered on the weights. See `checkAllocation`.
 */
export function alwaysValidAllocationPValue(visitors: readonly number[], weights: readonly number[]): number {
  return Math.min(1, Math.exp(-logAllocationFactor(visitors, weights)))
}

/** Logarithm of that Bayes factor: those of several stretches of a run add up. */
export function logAllocationFactor(visitors: readonly number[], weights: readonly number[]): number {
  let total = 0
  let totalWeight = 0
  for (let arm = 0; arm < visitors.length; arm++) {
    total += visitors[arm]!
    totalWeight += weights[arm]!
  }
  const prior = CONCENTRATION * weights.length
  let logFactor = gammaln(prior) - gammaln(prior + total)
  for (let arm = 0; arm < visitors.length; arm++) {
    const share = weights[arm]! / totalWeight
    logFactor += gammaln(prior * share + visitors[arm]!) - gammaln(prior * share) - visitors[arm]! * Math.log(share)
  }
  return logFactor
}
