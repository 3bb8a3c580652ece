/**
 * Benjamini and Hochberg's step-up adjustment of p-values: holding those under q to be real keeps the expected share
 * of false ones among them at or below q.
 *
 * @param pValues - raw p-values in any order
 * @returns adjusted p-values in the same order, each at most 1
 * @example benjaminiHochberg([0.01, 0.04, 0.03, 0.5]) // [0.04, 0.0533…, 0.0533…, 0.5]
 * @see Benjamini, Hochberg (1995), Controlling the false discovery rate, J. Royal Stat. Soc. B 57
 */
export function benjaminiHochberg(pValues: readonly number[]): number[] {
  const order = pValues.map((_, index) => index).sort((a, b) => pValues[b]! - pValues[a]!)
  const adjusted = new Array<number>(pValues.length)
  let reached = 1
  order.forEach((index, fromLargest) => {
    reached = Math.min(reached, (pValues[index]! * pValues.length) / (pValues.length - fromLargest))
    adjusted[index] = reached
  })
  return adjusted
}
