import { normalQuantile, normalUpperTail } from './distributions'
import { compareArms, type Comparison, type ComparisonPlan } from './compareArms'
import { estimateArm } from './estimate'
import { mergeMoments, type Moments } from './moments'

/** Sufficient statistics of one day: the visitors first exposed on it, or those of one age since their exposure. */
export interface DayOfArms {
  day: string
  control: Moments
  variant: Moments
}

export interface DayReading {
  day: string
  /** Of that day's visitors alone. */
  daily: Comparison
  /** Of everybody up to and including that day. */
  cumulative: Comparison
}

/**
 * The comparison by day, and of everything up to each day.
 *
 * @param days - ascending, as disjoint sets of visitors
 * @param plan - of the comparison
 */
export function compareOverTime(days: readonly DayOfArms[], plan: ComparisonPlan): DayReading[] {
  let control: Moments | null = null
  let variant: Moments | null = null
  return days.map((each) => {
    control = control ? mergeMoments(control, each.control) : each.control
    variant = variant ? mergeMoments(variant, each.variant) : each.variant
    return {
      day: each.day,
      daily: compareArms(estimateArm(plan.kind, each.control), estimateArm(plan.kind, each.variant), plan),
      cumulative: compareArms(estimateArm(plan.kind, control), estimateArm(plan.kind, variant), plan),
    }
  })
}

export interface Trend {
  /** Change of the difference for each day since the first exposure. */
  slope: number | null
  standardError: number | null
  interval: [number, number] | null
  pValue: number | null
  why?: string
}

/**
 * Does the difference grow or fade with the days since a visitor's first exposure (learning or novelty)?
 *
 * Weighted least squares of the differences on the days, each weighted by 1/SE². The groups must be different
 * visitors, or differences of what they did on that day alone.
 *
 * @param points - day since the first exposure, with the difference and its standard error
 * @param alpha - the interval is at 1 − alpha
 * @see Draper, Smith (1998), Applied regression analysis, section 9.2
 */
export function trendOfDifference(
  points: readonly { day: number; estimate: number | null; standardError: number | null }[],
  alpha: number,
): Trend {
  const usable = points.filter(
    (point): point is { day: number; estimate: number; standardError: number } =>
      point.estimate !== null && point.standardError !== null && point.standardError > 0,
  )
  const weights = usable.map(({ standardError }) => 1 / (standardError * standardError))
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const center = usable.reduce((sum, { day }, index) => sum + weights[index]! * day, 0) / total
  const spread = usable.reduce((sum, { day }, index) => sum + weights[index]! * (day - center) ** 2, 0)
  if (!(spread > 0))
    return {
      slope: null,
      standardError: null,
      interval: null,
      pValue: null,
      why: 'A trend needs differences on at least two days.',
    }
  const slope =
    usable.reduce((sum, { day, estimate }, index) => sum + weights[index]! * (day - center) * estimate, 0) / spread
  const standardError = Math.sqrt(1 / spread)
  const half = normalQuantile(1 - alpha / 2) * standardError
  return {
    slope,
    standardError,
    interval: [slope - half, slope + half],
    pValue: 2 * normalUpperTail(Math.abs(slope) / standardError),
  }
}
