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
    draw(visitors, lift, draws) {
      const buyers = draws.binomial(visitors, BUYERS * (1 + lift))
      let mean = 0
      let squares = 0
      for (let buyer = 1; buyer <= buyers; buyer++) {
        const order = Math.exp(draws.normal(LOG_MEAN, LOG_DEVIATION))
        const gap = order - mean
        mean += gap / buyer
        squares += gap * (order - mean)
      }
      return mergeMoments(momentsOfMean(buyers, mean, squares), momentsOfMean(visitors - buyers, 0, 0))
    },
  },
]

export function plannedMetric({ kind, mean, deviation }: Population): PlannedMetric {
  return kind === 'conversion' ? { kind, baseline: mean } : { kind, mean, deviation }
}
