import type { MetricSource } from '../core/measurement/metric'
import type { MetricInput } from '../shared/experiment'

/** A metric as the sheet saves it; the primary one, and better when there is more of it, unless said otherwise. */
export function primaryMetric(
  name: string,
  kind: MetricInput['kind'],
  source: MetricSource,
  more: Partial<MetricInput> = {},
): MetricInput {
  return { name, kind, source, denominator: null, direction: 'up', role: 'primary', limit: null, ...more }
}
