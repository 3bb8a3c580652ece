import { normalQuantile, normalUpperTail } from '../statistics/distributions'
import { estimateArm, type MetricKind } from '../statistics/estimate'
import type { Heterogeneity } from '../statistics/heterogeneity'
import { comoment, momentsOfMean, sampleCovariance, type Moments } from '../statistics/moments'
import { waldTest } from '../statistics/waldTest'
import { correctedParts, readPart, type Part } from './part'

/** Some days after a visitor's first exposure. */
export interface SincePeriod {
  /** In days, the first included. */
  from: number
  until: number
}

/** How the lift goes on from the first exposure. */
export interface SinceTrend {
  /** By what share the ratio of variant and control changes with each doubling of the days since. */
  perDoubling: number
  interval: [number, number]
  pValue: number
}

export interface SinceExposure {
  periods: Part[]
  /** Whether the periods differ. */
  differ: Heterogeneity
  /** Null with fewer than three periods that have a lift. */
  trend: SinceTrend | null
}

const EDGES = [0, 1, 2, 4, 7, 14, 28]
const HORIZONS = [28, 14, 7]
const LEAST_PERIODS = 3

/**
 * The periods that visitors are followed through: as long as half of them were, and no longer than the metric looks.
 *
 * @param followed - the share of the visitors who were exposed at least so many days ago
 * @param windowDays - of the metric; null for one that looks on
 * @returns their edges in days are 0, 1, 2, 4, 7, 14, 28; empty where visitors were not followed for a week
 */
export function sincePeriods(followed: (days: number) => number, windowDays: number | null): SincePeriod[] {
  const horizon = HORIZONS.find((days) => days <= (windowDays ?? Infinity) && followed(days) >= 0.5)
  const edges = EDGES.filter((edge) => edge <= (horizon ?? 0))
  return edges.slice(1).map((until, index) => ({ from: edges[index]!, until }))
}

/**
 * Whether an effect wears off or grows with the days since a visitor first saw it (novelty, learning). Each visitor is
 * followed through all periods, so that the same visitors stand in each; that their values hang together is counted with.
 *
 * @param kind - a conversion counts where it happened within the period
 * @param arms - moments of one value a period, in their order; the control first
 * @param position - of the variant among the arms
 * @param alpha - two-sided error level of the intervals
 * @returns the trend is a line through the logarithms of the ratios over the binary logarithm of one plus the days at
 *   which periods begin, weighted by their variances, with the standard error that follows from all covariances
 * @see Liang, Zeger (1986), Longitudinal data analysis using generalized linear models, Biometrika 73: working weights,
 *   and a variance that holds whatever the correlation; Katz and others (1978) for the logarithms
 */
export function readSinceExposure(
  kind: Exclude<MetricKind, 'ratio'>,
  periods: readonly SincePeriod[],
  arms: readonly Moments[],
  position: number,
  alpha: number,
): SinceExposure {
  const [control, variant] = [arms[0]!, arms[position]!]
  const read = periods.map((period, index) => {
    const pair = { control: valueOf(kind, control, index), variant: valueOf(kind, variant, index) }
    return readPart(pair, kind, alpha, nameOf(period))
  })
  const known = periods.flatMap(({ from }, index) =>
    isKnown(control, index) && isKnown(variant, index) ? [{ from, index }] : [],
  )
  const logs = known.map(({ index }) => Math.log(variant.means[index]! / control.means[index]!))
  const covariances = known.map((one) =>
    known.map((other) => covarianceOf(control, one.index, other.index) + covarianceOf(variant, one.index, other.index)),
  )
  return {
    periods: correctedParts(read),
    differ: waldTest(logs, covariances),
    trend: trendOf(
      known.map(({ from }) => Math.log2(1 + from)),
      logs,
      covariances,
      alpha,
    ),
  }
}

function nameOf({ from, until }: SincePeriod): string {
  return until - from === 1 ? `day ${until}` : `days ${from + 1} to ${until}`
}

function valueOf(kind: MetricKind, moments: Moments, index: number) {
  return estimateArm(kind, momentsOfMean(moments.count, moments.means[index]!, comoment(moments, index, index)))
}

function isKnown(moments: Moments, index: number): boolean {
  return moments.count > 1 && moments.means[index]! > 0 && comoment(moments, index, index) > 0
}

/** Of the logarithms of two means over the same visitors, by the delta method. */
function covarianceOf(moments: Moments, one: number, other: number): number {
  return sampleCovariance(moments, one, other) / moments.count / (moments.means[one]! * moments.means[other]!)
}

function trendOf(
  places: readonly number[],
  logs: readonly number[],
  covariances: readonly (readonly number[])[],
  alpha: number,
): SinceTrend | null {
  if (logs.length < LEAST_PERIODS) return null
  const weights = covariances.map((row, index) => 1 / row[index]!)
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const center = places.reduce((sum, place, index) => sum + weights[index]! * place, 0) / total
  const spread = places.reduce((sum, place, index) => sum + weights[index]! * (place - center) ** 2, 0)
  const shares = places.map((place, index) => (weights[index]! * (place - center)) / spread)
  const slope = shares.reduce((sum, share, index) => sum + share * logs[index]!, 0)
  const variance = shares.reduce(
    (sum, share, row) => sum + share * shares.reduce((of, each, column) => of + each * covariances[row]![column]!, 0),
    0,
  )
  const error = Math.sqrt(variance)
  const half = normalQuantile(1 - alpha / 2) * error
  return {
    perDoubling: Math.expm1(slope),
    interval: [Math.expm1(slope - half), Math.expm1(slope + half)],
    pValue: 2 * normalUpperTail(Math.abs(slope) / error),
  }
}
