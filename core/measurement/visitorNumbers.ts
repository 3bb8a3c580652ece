import { visitorValue, type MeasuredEvent, type MetricDefinition } from './metric'

/** How long before the first exposure the past reaches that a metric is adjusted by. */
export const PAST_DAYS = 28
/** What happens this close before the exposure belongs to the same visit, and is no past. */
const SAME_VISIT_MINUTES = 30

export interface VisitorNumbers {
  value: number
  /** Of a ratio; 0 for other kinds. */
  denominator: number
  /** The same metric before the first exposure (of a ratio, its numerator); null without an earlier visit. */
  past: number | null
}

/**
 * What a visitor adds to a metric's statistics.
 *
 * @param metric - what is measured
 * @param events - everything the visitor did, in any order, with `at` in ms since 1970
 * @param exposedAt - time of the first exposure
 * @param until - end of the experiment; null while it runs
 */
export function visitorNumbers(
  metric: MetricDefinition,
  events: readonly (MeasuredEvent & { at: number })[],
  exposedAt: number,
  until: number | null,
): VisitorNumbers {
  const during = events.filter(({ at }) => at >= exposedAt && (until === null || at <= until))
  const before = events.filter(
    ({ at }) => at < exposedAt - SAME_VISIT_MINUTES * 60_000 && at >= exposedAt - PAST_DAYS * 86_400_000,
  )
  return {
    value: visitorValue(metric, during),
    denominator:
      metric.kind === 'ratio' && metric.denominator
        ? visitorValue({ kind: 'mean', source: metric.denominator }, during)
        : 0,
    past: before.length > 0 ? visitorValue(metric, before) : null,
  }
}
