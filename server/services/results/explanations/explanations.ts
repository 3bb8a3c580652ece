import type { MetricResults, Explanation } from '../../../../shared/experiments/resultsReplies'
import type { ExperimentSheet, MetricView } from '../../../../shared/experiments/replies'
import type { VariantComparison } from '../../../../core/analysis/analysis'
import { pValueBy, type ReadingMethod } from '../../../../core/analysis/readings'
import type { ExpectationModel } from '../../../../core/measurement/expectedValue'
import { describeMeasured } from '../../../../core/measurement/metric'
import { PAST_DAYS } from '../../../../core/measurement/visitorNumbers'
import type { AllocationCheck } from '../../../../core/statistics/allocation'
import {
  formatAmount,
  formatCount,
  formatDifference,
  formatLift,
  formatMetric,
  formatNumber,
  formatPValue,
  formatShare,
  formatSum,
  isMoney,
} from '../../../../shared/formats'

/** What is said of a number, without the statement that reads its inputs. */
export type Words = Omit<Explanation, 'sql' | 'source'> & { source?: string }

/** Where a number stands: a metric, and one of its variants. */
export interface Place {
  sheet: ExperimentSheet
  results: MetricResults
  /** Position of the arm; 0 is the control. */
  position: number
}

export function explainVisitors({ sheet, results, position }: Place): Words {
  return {
    title: `Visitors of ${nameOf(sheet, position)}`,
    value: formatCount(results.arms[position]!.visitors),
    definition:
      'Visitors whose first exposure to this experiment was this variant. A visitor stays in it, whatever they see later.',
    inputs: [{ name: 'Counted by', value: 'the snippet’s exposure report, once a visitor' }],
    formula: 'n = number of first exposures',
  }
}

export function explainSum({ sheet, results, position }: Place): Words {
  const { metric } = results
  const arm = results.arms[position]!
  return {
    title: `${metric.kind === 'conversion' ? 'Conversions' : 'Sum'} of ${nameOf(sheet, position)}`,
    value: formatSum(metric, arm.sum, sheet.currency),
    definition: `${metric.name} counts ${describeMeasured(metric)}.`,
    inputs:
      metric.kind === 'ratio'
        ? [{ name: 'Sum of the denominator', value: formatCount(arm.denominator) }]
        : [{ name: 'Visitors', value: formatCount(arm.visitors) }],
    formula: 'Σy over the visitors',
  }
}

export function explainMean({ sheet, results, position }: Place): Words {
  const { metric } = results
  const arm = results.arms[position]!
  const formulas = {
    conversion: 'p = conversions / visitors; variance p(1 − p)',
    mean: 'm = Σy / n; variance s² = Σ(y − m)² / (n − 1)',
    ratio: 'R = Σy / Σz; variance (s²_y − 2R·s_yz + R²·s²_z) / z̄²',
  }
  return {
    title: `${metric.name}, ${nameOf(sheet, position)}`,
    value: formatMetric(metric, arm.mean, sheet.currency),
    definition: `${metric.name} counts ${describeMeasured(metric)}.`,
    inputs: [
      { name: 'Visitors', value: formatCount(arm.visitors) },
      { name: metric.kind === 'conversion' ? 'Conversions' : 'Sum', value: formatSum(metric, arm.sum, sheet.currency) },
      ...(metric.kind === 'ratio' ? [{ name: 'Sum of the denominator', value: formatCount(arm.denominator) }] : []),
      { name: 'Variance of one visitor’s value', value: arm.variance === null ? '–' : formatNumber(arm.variance) },
    ],
    formula: formulas[metric.kind],
    ...(metric.kind === 'ratio' ? { source: 'Deng, Knoblich, Lu (2018)' } : {}),
  }
}

export function explainLift(place: Place): Words {
  const comparison = comparisonOf(place)
  return {
    title: `Lift of ${nameOf(place.sheet, place.position)}`,
    value: formatLift(comparison.lift.estimate),
    definition: 'How much larger the variant’s value is than the control’s, relative to the control’s.',
    inputs: meansOf(place),
    formula: 'm / m₀ − 1',
  }
}

const INTERVAL_SOURCES: Record<ReadingMethod, { definition: string; formula: string; source: string }> = {
  spending: {
    definition:
      'Covers the true lift with this probability at all looks of the plan together. It is that of the latest look, and changes with the next.',
    formula: 'Fieller’s interval with the boundary of that look in place of the quantile',
    source: 'Lan, DeMets (1983); Jennison, Turnbull (2000); Fieller (1954)',
  },
  sequential: {
    definition:
      'Covers the true lift with this probability at all looks together. You may look, and stop, whenever you like.',
    formula:
      'Fieller’s interval with √((I+ρ)·ln((I+ρ)/(ρα²))/I) in place of the quantile; I = 1/V, ρ from the planned visitors',
    source: 'Howard, Ramdas, McAuliffe, Sekhon (2021); Fieller (1954)',
  },
  fixed: {
    definition:
      'Covers the true lift with this probability at one look, at the planned end. Looking earlier makes it wrong more often.',
    formula: 'Fieller’s interval of m/m₀ with the normal quantile; with Student’s t for means',
    source: 'Fieller (1954); Welch (1947)',
  },
  bayesian: {
    definition: 'The true lift lies in here with this probability, given the data and a flat prior.',
    formula: 'quantiles of θ/θ₀ − 1; θ is Beta(1 + conversions, 1 + others), or normal for means and ratios',
    source: 'Gelman et al. (2013)',
  },
}

export function explainInterval(place: Place, asked: ReadingMethod, value: string): Words {
  const { difference, planned } = comparisonOf(place)
  const method = asked === 'spending' && planned === undefined ? 'sequential' : asked
  return {
    title: `${formatShare(1 - place.sheet.plan.alpha, 0)} interval of the lift, ${nameOf(place.sheet, place.position)}`,
    value,
    ...INTERVAL_SOURCES[method],
    inputs: [
      ...meansOf(place),
      ...lookInputs(place, method),
      {
        name: 'Standard error of the difference',
        value: difference.standardError === null ? '–' : formatNumber(difference.standardError),
      },
      ...(method === 'sequential'
        ? [{ name: 'Planned visitors', value: formatCount(place.sheet.plan.plannedVisitors ?? 0) }]
        : []),
    ],
  }
}

/** Of the plan's latest look, what its interval and p-value follow from. */
function lookInputs(place: Place, method: ReadingMethod): Words['inputs'] {
  const planned = method === 'spending' ? comparisonOf(place).planned : null
  if (!planned) return []
  return [
    { name: 'Look', value: `of day ${planned.daysRun}${planned.isLast ? ', the last' : ''}` },
    { name: 'Share of the planned information', value: formatShare(planned.share, 1) },
    { name: 'Boundary of |z|', value: planned.bound === null ? 'none yet' : formatNumber(planned.bound) },
  ]
}

export function explainPValue(place: Place, asked: ReadingMethod): Words {
  const comparison = comparisonOf(place)
  // Of metrics that the plan takes no looks at, the reading is the one that holds at every look.
  const method =
    asked === 'bayesian' || (asked === 'spending' && comparison.planned === undefined) ? 'sequential' : asked
  const { kind, role } = place.results.metric
  const raw = pValueBy(comparison, method)
  const tests = {
    conversion: place.results.adjusted ? 'z test of adjusted rates' : 'two-proportion z test with pooled variance',
    mean: 'Welch’s t test',
    ratio: 'z test with the delta method’s variance',
  }
  const families = {
    primary: 'Holm, over the variants, by the plan’s rule',
    secondary: 'Benjamini–Hochberg, over all secondary metrics and variants, for one look',
    guardrail: 'not adjusted',
  }
  return {
    title: `p-value, ${nameOf(place.sheet, place.position)}`,
    value: formatPValue(raw),
    definition: P_VALUES[method].definition,
    inputs: [
      ...meansOf(place),
      ...lookInputs(place, method),
      {
        name: 'Standard error of the difference',
        value: comparison.difference.standardError === null ? '–' : formatNumber(comparison.difference.standardError),
      },
      ...(method === 'fixed' && comparison.degreesOfFreedom !== null
        ? [{ name: 'Degrees of freedom', value: formatNumber(comparison.degreesOfFreedom) }]
        : []),
      {
        name: 'Adjusted for several comparisons',
        value: `${formatPValue(comparison.adjustedPValue)} (${families[role]})`,
      },
    ],
    formula: P_VALUES[method].formula ?? tests[kind],
    source: P_VALUES[method].source ?? (kind === 'mean' ? 'Welch (1947)' : undefined),
  }
}

const P_VALUES: Record<
  Exclude<ReadingMethod, 'bayesian'>,
  { definition: string; formula?: string; source?: string }
> = {
  spending: {
    definition: 'The smallest error level at which one of the plan’s looks so far would have crossed its boundary.',
    formula: 'repeated p-value: the boundaries of all looks are solved for it',
    source: 'Jennison, Turnbull (2000), 9.5',
  },
  sequential: {
    definition: 'How often chance alone would ever give evidence this strong, at any look.',
    formula: '1/Λ, Λ = √(ρ/(I+ρ))·exp(I²δ²/(2(I+ρ)))',
    source: 'Robbins (1970); Howard et al. (2021)',
  },
  fixed: { definition: 'How often chance alone would give a difference at least this large, at one look.' },
}

export function explainProbabilityBetter(place: Place): Words {
  const { posterior } = comparisonOf(place)
  const isConversion = place.results.metric.kind === 'conversion'
  const better = place.results.metric.direction === 'up' ? '>' : '<'
  return {
    title: `Chance of being better, ${nameOf(place.sheet, place.position)}`,
    value: formatShare(posterior.probabilityBetter, 1),
    definition:
      'How probable it is that the variant is truly better than the control, given the data and a flat prior.',
    inputs: meansOf(place),
    formula:
      isConversion && !place.results.adjusted ? `P(θ ${better} θ₀), θ ~ Beta(1 + conversions, 1 + others)` : 'Φ(δ/√V)',
  }
}

export function explainLoss(place: Place): Words {
  const { posterior } = comparisonOf(place)
  const { metric } = place.results
  return {
    title: `Expected loss of ${nameOf(place.sheet, place.position)}`,
    value: posterior.expectedLoss === null ? '–' : formatLoss(metric, posterior.expectedLoss, place.sheet.currency),
    definition:
      'What choosing the variant costs for each visitor on average, should it be worse after all. The other number is what keeping the control costs, should the variant be better.',
    inputs: [
      ...meansOf(place),
      {
        name: 'Expected loss of keeping the control',
        value:
          posterior.expectedLossOfControl === null
            ? '–'
            : formatLoss(metric, posterior.expectedLossOfControl, place.sheet.currency),
      },
    ],
    formula: metric.direction === 'up' ? 'E[max(θ₀ − θ, 0)]' : 'E[max(θ − θ₀, 0)]',
  }
}

export function explainBest({ sheet, results, position }: Place): Words {
  return {
    title: `Chance of being best, ${nameOf(sheet, position)}`,
    value: formatShare(results.probabilityBest[position] ?? null, 1),
    definition: 'How probable it is that this variant is truly the best of all, given the data and a flat prior.',
    inputs: results.arms.map((arm, index) => ({
      name: nameOf(sheet, index),
      value: `${formatMetric(results.metric, arm.mean, sheet.currency)} of ${formatCount(arm.visitors)} visitors`,
    })),
    formula: '∫ f(x)·∏ F_others(x) dx',
  }
}

export function explainReduction(place: Place): Words {
  const { expectation } = place.sheet
  if (expectation && place.results.adjusted) return explainAdjustment(place, expectation)
  const reduction = comparisonOf(place).varianceReduction!
  const { metric, withPast } = place.results
  return {
    title: `With what visitors did before, ${nameOf(place.sheet, place.position)}`,
    value: formatDifference(metric, reduction.difference.estimate, place.sheet.currency),
    definition: `The difference after taking out what the same metric in the ${PAST_DAYS} days before the first exposure explains (CUPED). It estimates the same as the plain difference, with less noise. For one look.`,
    inputs: [
      { name: 'Visitors with an earlier visit', value: formatCount(withPast) },
      { name: 'Slope θ', value: formatNumber(reduction.theta) },
      { name: 'Share of the variance removed', value: formatShare(reduction.shareRemoved, 1) },
      {
        name: 'Standard error',
        value: reduction.difference.standardError === null ? '–' : formatNumber(reduction.difference.standardError),
      },
      {
        name: `${formatShare(1 - place.sheet.plan.alpha, 0)} interval`,
        value: reduction.difference.interval
          ? reduction.difference.interval.map((end) => formatDifference(metric, end, place.sheet.currency)).join(' to ')
          : '–',
      },
      { name: 'p-value', value: formatPValue(reduction.pValue) },
    ],
    formula: REDUCTION.formula,
    source: REDUCTION.source,
  }
}

const REDUCTION = {
  formula: 'm − θ(x̄ₖ − x̄), θ = cov(x, y)/var(x) within the arms',
  source: 'Deng, Xu, Kohavi, Walker (2013)',
}

/** Of a plan that adjusts: what the model says, and what its adjustment came to. */
function explainAdjustment(place: Place, model: ExpectationModel): Words {
  const { varianceReduction: reduction, unadjusted } = comparisonOf(place)
  const { metric, adjusted } = place.results
  const { currency } = place.sheet
  return {
    title: `Adjusted by what visitors did before, ${nameOf(place.sheet, place.position)}`,
    value: formatShare(reduction!.shareRemoved, 1),
    definition: `Share of the variance that the adjustment removes. x is what a visitor’s value was expected to be. Its model was fitted before the start, to ${formatCount(model.visitors)} visitors. It knows the same metric, visits and money of the ${PAST_DAYS} days before the exposure, the device and the source.`,
    inputs: [
      { name: 'Slope θ', value: formatNumber(reduction!.theta) },
      { name: 'Explained among visitors before the start', value: formatShare(model.explained, 1) },
      ...[0, place.position].map((position) => ({
        name: `Adjusted mean of ${nameOf(place.sheet, position)}`,
        value: formatMetric(metric, adjusted?.[position]?.mean ?? null, currency),
      })),
      { name: 'Lift without the adjustment', value: formatLift(unadjusted?.lift.estimate ?? null) },
      { name: 'Its p-value, for one look', value: formatPValue(unadjusted?.pValue ?? null) },
      ...slopesOf(model),
    ],
    formula: `${REDUCTION.formula}; x by ridge regression`,
    source: `${REDUCTION.source}; Guo et al. (2021)`,
  }
}

function slopesOf(model: ExpectationModel): Words['inputs'] {
  const slopes: [string, number][] = [
    ['Base', model.base],
    ['Had an earlier visit', model.returned],
    ['For each unit of the metric before', model.value],
    ['For each unit of ln(1 + visits before)', model.visits],
    ['For each unit of ln(1 + money spent before)', model.spent],
    ...model.devices.map(({ name, adds }): [string, number] => [`Device ${name}`, adds]),
    ...model.sources.map(({ name, adds }): [string, number] => [`Source ${name}`, adds]),
  ]
  return slopes.map(([name, slope]) => ({ name: `x: ${name}`, value: formatNumber(slope) }))
}

export function explainAllocation(allocation: AllocationCheck, names: readonly string[]): Words {
  return {
    title: 'Is the split as it was set?',
    value: `p ${formatPValue(allocation.sequentialPValue)} at any look`,
    definition:
      'How far the visitors in each variant are from what the weights say (sample ratio mismatch). Below 0.001 something loses or moves visitors, and no result can be trusted.',
    inputs: [
      ...names.map((name, index) => ({
        name,
        value: `${formatCount(allocation.observed[index]!)}, expected ${formatNumber(allocation.expected[index]!)}`,
      })),
      {
        name: 'χ²',
        value: `${allocation.chiSquare.toFixed(2)} with ${allocation.degreesOfFreedom} degree${allocation.degreesOfFreedom === 1 ? '' : 's'} of freedom; p ${formatPValue(allocation.pValue)} for one look`,
      },
    ],
    formula:
      '1/BF: a Dirichlet–multinomial, centered on the weights with 100 pseudo-visitors a variant, against the weights',
    source: 'Lindon, Malek (2020); Pearson (1900)',
  }
}

function comparisonOf({ results, position }: Place): VariantComparison {
  return results.comparisons[position - 1]!
}

function nameOf(sheet: ExperimentSheet, position: number): string {
  return sheet.variants[position]?.name ?? ''
}

/** What a comparison is made of: adjusted means, where its plan adjusts. */
function meansOf({ sheet, results, position }: Place): Words['inputs'] {
  return [0, position].map((index) => {
    const arm = results.arms[index]!
    const mean = results.adjusted ? results.adjusted[index]!.mean : arm.mean
    return {
      name: results.adjusted ? `${nameOf(sheet, index)}, adjusted` : nameOf(sheet, index),
      value: `${formatMetric(results.metric, mean, sheet.currency)} of ${formatCount(arm.visitors)} visitors`,
    }
  })
}

function formatLoss(metric: MetricView, loss: number, currency: string): string {
  if (metric.kind === 'conversion') return `${formatNumber(loss * 100)} points of the rate`
  return isMoney(metric) && loss >= 0.01 ? formatAmount(loss, currency) : formatNumber(loss)
}
