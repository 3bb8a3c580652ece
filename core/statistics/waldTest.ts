import { chiSquareUpperTail } from './distributions'
import type { Heterogeneity } from './heterogeneity'

/** Below this share of what it began with, a variance is that of rounding. */
const NOTHING = 1e-12

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
  const solved = solveLower(spread, differences)
  if (!solved) return unknown('The effects hang together too closely to be told apart.')
  const q = solved.reduce((sum, each) => sum + each * each, 0)
  return { q, degreesOfFreedom, pValue: chiSquareUpperTail(q, degreesOfFreedom) }
}

function unknown(why: string): Heterogeneity {
  return { q: null, degreesOfFreedom: 0, pValue: null, why }
}

/** L⁻¹ d with the Cholesky factor L of S, so that its square is dᵀ S⁻¹ d; null where S has no inverse. */
function solveLower(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const lower: number[][] = []
  const solved: number[] = []
  for (const [i, row] of matrix.entries()) {
    const own: number[] = []
    for (let j = 0; j <= i; j++) {
      const of = j === i ? own : lower[j]!
      const rest = row[j]! - own.slice(0, j).reduce((sum, each, k) => sum + each * of[k]!, 0)
      if (j < i) own.push(rest / of[j]!)
      else if (rest <= NOTHING * row[i]!) return null
      else own.push(Math.sqrt(rest))
    }
    lower.push(own)
    solved.push((right[i]! - own.slice(0, i).reduce((sum, each, k) => sum + each * solved[k]!, 0)) / own[i]!)
  }
  return solved
}
