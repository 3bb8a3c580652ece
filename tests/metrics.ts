import type { MetricSource } from '../core/measurement/metric'
import type { SheetMetric, SheetPlan } from '../core/sheet/content'
import { DEFAULT_PLAN } from '../core/sheet/defaultPlan'
import { drawThingId } from '../shared/thingId'

/** A plan with nothing left to be computed from traffic. */
/** It may be looked at whenever a test likes. */
export const PLAN: SheetPlan = { ...DEFAULT_PLAN, rule: 'sequential', baseline: 0.05, plannedVisitors: 20_000 }

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
