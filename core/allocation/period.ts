import { mergeAll, noMoments, type Moments } from '../statistics/moments'

/** A stretch of a run in which new visitors are drawn by the same weights. */
export interface AllocationPeriod {
  /** Share of new visitors that each arm gets, the control first; all above 0, 1 together. */
  shares: readonly number[]
  /** Moments of the visitors of each arm who were drawn in it. */
  arms: readonly Moments[]
}

/** With fewer visitors in one of its arms, a period cannot be told apart by itself, and is left out. */
const LEAST_IN_ARM = 2

/**
 * Each arm's moments with the periods taken apart: within a period arms are compared as they were drawn, and every arm
 * takes the periods in the same proportion, so that a period of many conversions raises no arm that had more of it.
 *
 * Period p counts a = N·√e, with its visitors N and e the harmonic mean of its shares. Then each adds about N·σ² to
 * the variance of the summed difference, whatever was learned before it: the sum stays normal though the shares follow
 * the data. Within a period the mean of an arm is inverse probability weighting, stabilized.
 *
 * @param periods - of a run; those with an arm of fewer than two visitors are left out
 * @returns of each arm all its visitors, weighted means, and comoments of which the sample covariance over the visitors is
 *   the covariance of these means
 * @see Hadad, Hirshberg, Zhan, Wager, Athey (2021), Confidence intervals for policy evaluation in adaptive experiments,
 *   PNAS 118, section 2 (weights that keep the variance); Zhang, Janson, Murphy (2020), Inference for batched bandits
 */
export function weightedMoments(periods: readonly AllocationPeriod[]): Moments[] {
  const arms = periods[0]?.arms.length ?? 0
  const counted = periods.filter((period) => period.arms.every(({ count }) => count >= LEAST_IN_ARM))
  const weights = counted.map(weightOf)
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  return Array.from({ length: arms }, (_, arm) => {
    if (total === 0) return noMoments(periods[0]!.arms[arm]!.means.length)
    const own = counted.map((period) => period.arms[arm]!)
    const count = periods.reduce((sum, period) => sum + period.arms[arm]!.count, 0)
    const size = own[0]!.means.length
    const means = Array.from({ length: size }, (_, value) =>
      own.reduce((sum, moments, at) => sum + (weights[at]! / total) * moments.means[value]!, 0),
    )
    const comoments = own[0]!.comoments.map(
      (_, cell) =>
        count *
        (count - 1) *
        own.reduce(
          (sum, moments, at) =>
            sum + (weights[at]! / total) ** 2 * (moments.comoments[cell]! / (moments.count * (moments.count - 1))),
          0,
        ),
    )
    return { count, means, comoments }
  })
}

function weightOf({ shares, arms }: AllocationPeriod): number {
  const visitors = arms.reduce((sum, { count }) => sum + count, 0)
  const harmonicMean = shares.length / shares.reduce((sum, share) => sum + 1 / share, 0)
  return visitors * Math.sqrt(harmonicMean)
}

/** Moments of each arm over all periods, as if they had been one: for what was counted, and never to compare by. */
export function mixedMoments(periods: readonly AllocationPeriod[], size: number): Moments[] {
  return (periods[0]?.arms ?? []).map((_, arm) =>
    mergeAll(
      periods.map(({ arms }) => arms[arm]!),
      size,
    ),
  )
}
