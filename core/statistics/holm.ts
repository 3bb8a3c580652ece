/**
 * Holm's step-down adjustment of p-values for several comparisons.
 *
 * @param pValues - raw p-values in any order
 * @returns adjusted p-values in the same order, each at most 1
 * @example holm([0.01, 0.04, 0.03]) // [0.03, 0.06, 0.06]
 * @see Holm (1979), A simple sequentially rejective multiple test procedure
 */
export function holm(pValues: readonly number[]): number[] {
  const order = pValues.map((_, index) => index).sort((a, b) => pValues[a]! - pValues[b]!)
  const adjusted = new Array<number>(pValues.length)
  let reached = 0
  order.forEach((index, rank) => {
    reached = Math.max(reached, Math.min(1, (pValues.length - rank) * pValues[index]!))
    adjusted[index] = reached
  })
  return adjusted
}
