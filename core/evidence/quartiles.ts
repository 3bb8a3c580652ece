/** First quartile, median and third quartile. */
export type Quartiles = readonly [number, number, number]

/**
 * Quartiles of values, by linear interpolation between order statistics (Hyndman and Fan 1996, type 7), as PostgreSQL's
 * `percentile_cont` has them.
 *
 * @returns null without values
 * @example quartiles([1, 2, 3, 4]) // [1.75, 2.5, 3.25]
 */
export function quartiles(values: readonly number[]): Quartiles | null {
  if (values.length === 0) return null
  const sorted = Float64Array.from(values).sort()
  const at = (share: number) => {
    const place = share * (sorted.length - 1)
    const below = Math.floor(place)
    const [low, high] = [sorted[below]!, sorted[Math.min(below + 1, sorted.length - 1)]!]
    return low + (place - below) * (high - low)
  }
  return [at(0.25), at(0.5), at(0.75)]
}
