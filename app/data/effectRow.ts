import type { Shortfall } from '~~/core/statistics/shortfall'
import type { LiftEstimate } from '~~/core/statistics/compareArms'
import type { MetricResults } from '~~/shared/experiments/resultsReplies'
import type { HeldOutMetric } from '~~/shared/traffic/holdoutReading'

/** What one of many metrics says of two parts of the visitors, the one without the changes first. */
export interface EffectRow {
  id: string
  name: string
  direction: 'up' | 'down'
  /** Of a guardrail: how much worse is accepted. */
  harmLimit: number | null
  means: [number | null, number | null]
  /** As means are written. */
  showMean: (mean: number | null) => string
  lift: number | null
  interval: [number, number] | null
  pValue: number | null
  shortfall: Shortfall | null
  isShort: boolean
  /** What single measurements promised together; null where nothing measures it, and left out where nothing is promised. */
  promised?: Pick<LiftEstimate, 'estimate' | 'interval'> | null
}

/** What a personalization did to a metric; null where nothing is compared. */
export function effectOfServing({ metric, arms, comparisons }: MetricResults, currency: string): EffectRow | null {
  const [comparison] = comparisons
  if (!comparison) return null
  const { sequential, shortfall } = comparison
  return {
    id: metric.id,
    name: metric.name,
    direction: metric.direction,
    harmLimit: metric.limit,
    means: [arms[0]?.mean ?? null, arms[1]?.mean ?? null],
    showMean: (mean) => formatMetric(metric, mean, currency),
    lift: sequential.lift.estimate,
    interval: sequential.lift.interval,
    pValue: sequential.pValue,
    shortfall,
    isShort: shortfall !== null,
  }
}

/** What everything together did to a metric, as a holdout shows it. */
export function effectOfHoldout(read: HeldOutMetric, currency: string): EffectRow {
  const { metric, arms, lift, pValue, shortfall, promised } = read
  return {
    id: metric.id,
    name: metric.name,
    direction: metric.direction,
    harmLimit: null,
    means: [arms[0]?.mean ?? null, arms[1]?.mean ?? null],
    showMean: (mean) => formatMetric(metric, mean, currency),
    lift: lift.estimate,
    interval: lift.interval,
    pValue,
    shortfall,
    isShort: shortfall !== null,
    promised: promised && { estimate: promised.lift, interval: promised.interval },
  }
}

/** Metrics by how many of the things that were begun measure them: that of the most comes first. */
export function mostMeasuredFirst(metrics: readonly HeldOutMetric[]): HeldOutMetric[] {
  const things = ({ promised }: HeldOutMetric) => promised?.things ?? 0
  return [...metrics].sort((a, b) => things(b) - things(a))
}
