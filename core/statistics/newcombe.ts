import { normalQuantile } from './distributions'

/** So many of so many. */
export interface Share {
  count: number
  of: number
}

/** Difference of two shares with its interval. */
export interface ShareDifference {
  difference: number
  low: number
  high: number
}

/**
 * Difference of two independent shares with the hybrid score interval, which holds its level also for small samples and
 * shares near 0 and 1 (Newcombe 1998, Interval estimation for the difference between independent proportions, method 10).
 *
 * @param alpha - 1 less the level of the interval, 0 < alpha < 1
 * @returns null where one of them is of nobody
 * @example shareDifference({ count: 56, of: 70 }, { count: 48, of: 80 }) // { difference: 0.2, low: 0.0524, high: 0.3339 }
 */
export function shareDifference(first: Share, second: Share, alpha = 0.05): ShareDifference | null {
  if (first.of === 0 || second.of === 0) return null
  const z = normalQuantile(1 - alpha / 2)
  const [p, q] = [first.count / first.of, second.count / second.of]
  const [own, other] = [wilson(first, z), wilson(second, z)]
  return {
    difference: p - q,
    low: p - q - Math.hypot(p - own.low, other.high - q),
    high: p - q + Math.hypot(own.high - p, q - other.low),
  }
}

/** Score interval of one share (Wilson 1927). */
function wilson({ count, of }: Share, z: number): { low: number; high: number } {
  const middle = 2 * count + z * z
  const half = z * Math.sqrt(z * z + 4 * count * (1 - count / of))
  const scale = 2 * (of + z * z)
  return { low: (middle - half) / scale, high: (middle + half) / scale }
}
