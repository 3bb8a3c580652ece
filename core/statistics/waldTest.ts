import { choleskyFactor, solveLower } from './cholesky'
import { chiSquareUpperTail } from './distributions'
import type { Heterogeneity } from './heterogeneity'

/**
 * Do effects that were estimated together differ by more than chance? As Cochran's Q, for effects that hang together.
 *
 * @param effects - estimates
 * @param covariances - of the estimates, a row each: symmetric, positive semidefinite
 * @returns W = dᵀ S⁻¹ d over the differences d from the first effect with their covariances S, its degrees of freedom and
 *   the chi-square p-value
 * @example waldTest([0, 1], [[0.5, 0], [0, 0.5]]).q // 1
 * @see Wald (1943), Tests of statistical hypotheses concerning several parameters, Transactions of the American
 *   Mathematical Society 54
 */
export function waldTest(effects: readonly number[], covariances: readonly (readonly number[])[]): Heterogeneity {
  const degreesOfFreedom = effects.length - 1
  if (degreesOfFreedom < 1) return unknown('Fewer than two periods have an effect that can be estimated.')
  const first = covariances[0]!
  const differences = effects.slice(1).map((effect) => effect - effects[0]!)
  const spread = covariances
    .slice(1)
    .map((row) => row.slice(1).map((each, j) => each - row[0]! - first[j + 1]! + first[0]!))
  const factor = choleskyFactor(spread)
  if (!factor) return unknown('The effects hang together too closely to be told apart.')
  const q = solveLower(factor, differences).reduce((sum, each) => sum + each * each, 0)
  return { q, degreesOfFreedom, pValue: chiSquareUpperTail(q, degreesOfFreedom) }
}

function unknown(why: string): Heterogeneity {
  return { q: null, degreesOfFreedom: 0, pValue: null, why }
}
