import type { MetricSource } from '../core/measurement/metric'
import type { SheetMetric } from '../core/sheet/content'
import { drawThingId } from '../shared/thingId'

/** A metric as the sheet saves it; the primary one, and better when there is more of it, unless said otherwise. */
export function primaryMetric(
  name: string,
  kind: SheetMetric['kind'],
  source: MetricSource,
  more: Partial<SheetMetric> = {},
): SheetMetric {
  return {
    id: drawThingId(),
    name,
    kind,
    source,
    denominator: null,
    direction: 'up',
    role: 'primary',
    limit: null,
    ...more,
  }
}
