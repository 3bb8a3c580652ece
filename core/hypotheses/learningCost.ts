import type { MetricKind } from '../statistics/estimate'
import { DEFAULT_PLAN } from '../sheet/defaultPlan'
import { LOOKS, plannedMetric, WANTED_POWER } from '../sheet/planReading'
import { detectableLift, sampleSize, type PowerPlan } from '../statistics/power'
import type { IdeaTraffic } from './worth'

/** What it takes to learn whether an idea is right. */
export interface LearningCost {
  /** Visitors of an A/B test that finds the likely lift in 80 of 100 runs; null where no number of them does. */
  visitors: number | null
  /** Whole weeks until they have come; null where they never do. */
  weeks: number | null
  /** The smallest lift that four weeks show in 80 of 100 runs; null where they show none. */
  visibleLift: number | null
}

/** Weeks in which the smallest visible lift is told. */
export const SEEN_WEEKS = 4

/**
 * What a test of two variants would cost by the plan that new experiments start with (docs/statistics.md, 7), on all
 * of the visitors that came lately.
 *
 * @param lift - the likely one, toward the better; without one above zero there is nothing to find
 * @param direction - where the better is
 */
export function learningCost(
  traffic: Pick<IdeaTraffic, 'days' | 'visitors' | 'mean' | 'deviation'>,
  kind: MetricKind,
  lift: number,
  direction: 'up' | 'down',
): LearningCost {
  const { days, visitors, mean, deviation } = traffic
  const aWeek = days > 0 ? (visitors / days) * 7 : 0
  const metric = plannedMetric(kind, mean, mean, deviation)
  if (!metric || aWeek === 0) return { visitors: null, weeks: null, visibleLift: null }
  const plan: PowerPlan = {
    metric,
    alpha: DEFAULT_PLAN.alpha,
    weights: [1, 1],
    looks: { rule: 'sequential', looks: LOOKS },
  }
  const signed = direction === 'down' ? -lift : lift
  const needed =
    lift > 0 ? orNull(() => sampleSize(plan, signed, WANTED_POWER).reduce((sum, each) => sum + each, 0)) : null
  return {
    visitors: needed,
    weeks: needed === null ? null : Math.max(DEFAULT_PLAN.leastWeeks, Math.ceil(needed / aWeek)),
    visibleLift: orNull(() => detectableLift(plan, aWeek * SEEN_WEEKS, WANTED_POWER)),
  }
}

/** Lifts that no test can find, such as one to a rate above 1, have no cost that could be told. */
function orNull<Value>(compute: () => Value): Value | null {
  try {
    return compute()
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}
