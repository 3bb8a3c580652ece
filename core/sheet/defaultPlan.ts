import type { SheetPlan } from './content'

/** The plan of a new sheet: what depends on the traffic is computed from it. */
export const DEFAULT_PLAN: SheetPlan = {
  smallestLift: 0.05,
  baseline: null,
  alpha: 0.05,
  rule: 'spending',
  lossLimit: 0.005,
  leastWeeks: 2,
  longestWeeks: 6,
  plannedVisitors: null,
  leastChance: 0.1,
}
