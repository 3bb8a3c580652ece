import type { Purpose, SheetPlan } from './content'

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

/** What a personalization is read by: it is looked at every day and has no end, so its intervals hold at every look. */
export const SERVING_PLAN: SheetPlan = {
  ...DEFAULT_PLAN,
  rule: 'sequential',
  leastWeeks: 1,
  longestWeeks: 52,
  leastChance: null,
  pausesFor: 'harm',
}

/** The plan of a new sheet. */
export const planOfNew = (purpose: Purpose): SheetPlan => (purpose === 'serve' ? SERVING_PLAN : DEFAULT_PLAN)
