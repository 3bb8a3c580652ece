import type { Draws } from '../../core/random/draws'
import { momentsOfMean, conversionMoments, mergeMoments, type Moments } from '../../core/statistics/moments'
import type { MetricKind } from '../../core/statistics/estimate'
import type { PlannedMetric } from '../../core/statistics/power'

/** Made-up visitors whose true mean and deviation are known. */
export interface Population {
  name: string
  kind: Exclude<MetricKind, 'ratio'>
  mean: number
  deviation: number
  /** Moments of some visitors; a lift multiplies the probability to convert. */
  draw: (visitors: number, lift: number, draws: Draws) => Moments
}

/** Revenue of a visitor: zero for most, else lognormal. */
const BUYERS = 0.05
const LOG_MEAN = 3
const LOG_DEVIATION = 1
const orderMean = Math.exp(LOG_MEAN + LOG_DEVIATION ** 2 / 2)
const orderSquare = Math.exp(2 * LOG_MEAN + 2 * LOG_DEVIATION ** 2)

export const POPULATIONS: readonly Population[] = [
  ...[0.01, 0.05, 0.3].map((rate): Population => ({
    name: `conversion ${rate * 100} %`,
    kind: 'conversion',
    mean: rate,
    deviation: Math.sqrt(rate * (1 - rate)),
    draw: (visitors, lift, draws) => conversionMoments(visitors, draws.binomial(visitors, rate * (1 + lift))),
  })),
  {
    name: 'skewed revenue',
    kind: 'mean',
    mean: BUYERS * orderMean,
    deviation: Math.sqrt(BUYERS * orderSquare - (BUYERS * orderMean) ** 2),
    draw: (visitors, lift, draws) =>
      drawAmounts(visitors, { buyers: BUYERS * (1 + lift), logDeviation: LOG_DEVIATION }, draws).moments,
  },
]

export function plannedMetric({ kind, mean, deviation }: Population): PlannedMetric {
  return kind === 'conversion' ? { kind, baseline: mean } : { kind, mean, deviation }
}

/** Some visitors of one metric, with what tells how skewed their values are. */
export interface DrawnVisitors {
  moments: Moments
  /** Sum of the third powers of their values. */
  cubes: number
  /** Visitors whose value is not zero. */
  active: number
}

export function drawConversions(visitors: number, rate: number, draws: Draws): DrawnVisitors {
  const converted = draws.binomial(visitors, rate)
  return { moments: conversionMoments(visitors, converted), cubes: converted, active: converted }
}

/** Amounts of visitors of whom some buy, each for a lognormal amount. */
export function drawAmounts(
  visitors: number,
  { buyers, logDeviation }: { buyers: number; logDeviation: number },
  draws: Draws,
): DrawnVisitors {
  const active = draws.binomial(visitors, buyers)
  let mean = 0
  let squares = 0
  let cubes = 0
  for (let buyer = 1; buyer <= active; buyer++) {
    const order = Math.exp(draws.normal(LOG_MEAN, logDeviation))
    const gap = order - mean
    mean += gap / buyer
    squares += gap * (order - mean)
    cubes += order ** 3
  }
  const moments = mergeMoments(momentsOfMean(active, mean, squares), momentsOfMean(visitors - active, 0, 0))
  return { moments, cubes, active }
}
