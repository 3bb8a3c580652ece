import type { VariantComparison } from '../../core/analysis/analysis'
import type { AllocationCheck } from '../../core/statistics/allocation'
import type { LiftEstimate } from '../../core/statistics/compareArms'
import type { FactorialReading } from '../../core/statistics/factorial'
import type { Heterogeneity } from '../../core/statistics/heterogeneity'
import type { SoundnessFinding } from '../../core/statistics/soundness'
import type { ReachedVerdict } from '../../core/verdict/reachedVerdict'
import type { Verdict } from '../../core/verdict/verdict'
import type { MetricView } from './experiment'

/** One arm of one metric. */
export interface ArmView {
  visitors: number
  /** Conversions, the sum of amounts, or of a ratio the sum of the numerator. */
  sum: number
  /** Of a ratio. */
  denominator: number
  mean: number | null
  /** Of one visitor's value. */
  variance: number | null
}

/** What one metric says. */
export interface MetricResults {
  metric: MetricView
  /** In the order of the variants, the control first. */
  arms: ArmView[]
  /** One a variant, in the order of the arms after the control. */
  comparisons: VariantComparison[]
  probabilityBest: (number | null)[]
  /** Visitors with an earlier visit, whose past the variance reduction uses. */
  withPast: number
  /** Of a multivariate test: what each factor does, for one look. */
  factorial: FactorialReading | null
}

/** What happened, as of the last fold. */
export interface ExperimentResults {
  /** Names and visitors, the control first. */
  arms: { name: string; visitors: number }[]
  visitors: number
  /** Visitors who were seen in more than one variant. */
  crossed: number
  daysRun: number
  allocation: AllocationCheck | null
  /** In the order of the sheet, the primary one first. */
  metrics: MetricResults[]
  /** Reasons not to trust the data, or to look closer. */
  soundness: SoundnessFinding[]
  /** What to go by. */
  verdict: Verdict | null
  /** The first verdict that ended the question, with the numbers that it was reached by. */
  reached: ReachedVerdict | null
  /** What the numbers of now say, where that is something else. */
  since: Verdict | null
  foldedAt: string | null
}

/** One look at one comparison, the last of its day. */
export interface LookView {
  metricVersionId: number
  /** Position of the variant that is compared with the control. */
  variant: number
  day: string
  visitors: [control: number, variant: number]
  means: [control: number | null, variant: number | null]
  lift: number | null
  /** Always valid. */
  interval: [number, number] | null
  pValue: number | null
  /** Smallest over all looks so far. */
  fixedInterval: [number, number] | null
  fixedPValue: number | null
}

/** The visitors of one day, by the day of their first exposure. */
export interface DayView {
  day: string
  /** Of each arm, the control first. */
  visitors: number[]
  /** In the order of the sheet. */
  metrics: {
    metricVersionId: number
    arms: ArmView[]
    /** Of each variant, for one look at the visitors of this day alone. */
    lifts: LiftEstimate[]
  }[]
}

/** What happened within each value of one segment. */
export interface SegmentView {
  dimension: string
  /** In the order of the sheet. */
  metrics: {
    metricVersionId: number
    /** One a variant, in the order of the arms after the control. */
    comparisons: { readings: SegmentReadingView[]; heterogeneity: Heterogeneity }[]
  }[]
}

export interface SegmentReadingView {
  /** null: all other values together. */
  value: string | null
  /** In the control and the variant together. */
  visitors: number
  controlMean: number | null
  mean: number | null
  /** For one look. */
  lift: LiftEstimate
  pValue: number | null
  /** Corrected over all values of all segments. */
  adjustedPValue: number | null
}
