/** Below this share of what it began with, a diagonal element is that of rounding. */
const NOTHING = 1e-12

/** A lower triangular matrix L, a row each, that is as long as its number plus one. */
export type LowerTriangle = readonly (readonly number[])[]

/**
 * The lower triangular L with L·Lᵀ = matrix.
 *
 * @param matrix - symmetric, a row each
 * @returns null where the matrix is not positive definite, within rounding
 * @example choleskyFactor([[4, 2], [2, 2]]) // [[2], [1, 1]]
 * @see Golub, Van Loan (2013), Matrix Computations, algorithm 4.2.1
 */
export function choleskyFactor(matrix: readonly (readonly number[])[]): LowerTriangle | null {
  const lower: number[][] = []
  for (const [i, row] of matrix.entries()) {
    const own: number[] = []
    for (let j = 0; j <= i; j++) {
      const of = j === i ? own : lower[j]!
      const rest = row[j]! - own.slice(0, j).reduce((sum, each, k) => sum + each * of[k]!, 0)
      if (j < i) own.push(rest / of[j]!)
      else if (!(rest > NOTHING * row[i]!)) return null
      else own.push(Math.sqrt(rest))
    }
    lower.push(own)
  }
  return lower
}

/** L⁻¹·right: the square of its length is rightᵀ·(L·Lᵀ)⁻¹·right. */
export function solveLower(lower: LowerTriangle, right: readonly number[]): number[] {
  const solved: number[] = []
  for (const [i, row] of lower.entries())
    solved.push((right[i]! - row.slice(0, i).reduce((sum, each, k) => sum + each * solved[k]!, 0)) / row[i]!)
  return solved
}

/** (L·Lᵀ)⁻¹·right. */
export function solveByFactor(lower: LowerTriangle, right: readonly number[]): number[] {
  const half = solveLower(lower, right)
  const solved = [...half]
  for (let i = lower.length - 1; i >= 0; i--) {
    let rest = half[i]!
    for (let k = i + 1; k < lower.length; k++) rest -= lower[k]![i]! * solved[k]!
    solved[i] = rest / lower[i]![i]!
  }
  return solved
}
