/** Which pooled values the quantile is taken of. */
export type WinsorizeBasis = 'above zero' | 'all'

/**
 * The limit that winsorizing cuts values down to: a quantile of the pooled values of all arms.
 *
 * @param values - pooled values of all arms, in any order
 * @param quantile - above 0, at most 1; 1 gives the largest value and so changes nothing
 * @param basis - 'above zero' takes the quantile of the values above zero (of all where there are none)
 * @returns the limit, by linear interpolation between order statistics; Infinity for no values
 * @throws RangeError for a quantile outside of (0, 1]
 * @example winsorizeLimit([0, 0, 10, 20, 30, 1000], 0.5, 'above zero') // 25
 * @see Hyndman, Fan (1996), Sample quantiles in statistical packages, definition 7
 */
export function winsorizeLimit(values: ArrayLike<number>, quantile: number, basis: WinsorizeBasis): number {
  if (!(quantile > 0 && quantile <= 1))
    throw new RangeError('The quantile to winsorize at lies above 0 and is at most 1.')
  const all = Float64Array.from(values).sort()
  if (all.length === 0) return Infinity
  const from = basis === 'all' ? 0 : firstAbove(all, 0)
  const sorted = from < all.length ? all.subarray(from) : all
  const position = quantile * (sorted.length - 1)
  const below = Math.floor(position)
  const low = sorted[below]!
  const high = sorted[Math.min(below + 1, sorted.length - 1)]!
  return low + (position - below) * (high - low)
}

function firstAbove(sorted: Float64Array, bound: number): number {
  let low = 0
  let high = sorted.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle]! > bound) high = middle
    else low = middle + 1
  }
  return low
}
