import type { MetricResults } from '~~/shared/experiments/resultsReplies'

/**
 * One scale for all tracks of some metrics, so that they can be compared: never narrower than twice the smallest
 * worthwhile lift. An interval that is far wider than the others is cut off rather than squeezing them.
 */
export function trackDomain(metrics: readonly MetricResults[], smallestLift: number): [number, number] {
  const ends = metrics
    .flatMap(({ comparisons }) =>
      comparisons.flatMap(({ sequential, lift }) => [...(sequential.lift.interval ?? []), ...(lift.interval ?? [])]),
    )
    .map(Math.abs)
  return symmetricDomain(ends, 2 * smallestLift)
}

/** From −x to x, around ends that are much the same; three times their median at most. */
export function symmetricDomain(ends: readonly number[], least: number): [number, number] {
  const sorted = [...ends].sort((a, b) => a - b)
  const median = sorted[Math.floor(sorted.length / 2)] ?? 0
  const widest = Math.max(least, Math.min(1.15 * (sorted.at(-1) ?? 0), 3 * median))
  return [-widest, widest]
}
