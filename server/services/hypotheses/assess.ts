import type { IdeaFigures, Assessment, IdeaMetric } from '../../../shared/hypotheses/replies'
import { learningCost, type LearningCost } from '../../../core/hypotheses/learningCost'
import { drawTowardPast, type Past, type Strength } from '../../../core/hypotheses/pastLifts'
import type { LiftRange } from '../../../core/hypotheses/pert'
import { worthOf } from '../../../core/hypotheses/worth'
import { formatPercent } from '../../../shared/formats'
import type { RankingTerms } from '../../../shared/hypotheses/hypothesis'
import { FIGURE_DAYS } from './ideaFigures'

/** What a person expects of an idea. */
export interface Expectation {
  low: number | null
  likely: number | null
  high: number | null
  effortDays: number | null
  strength: Strength
  direction: 'up' | 'down'
}

/** What an idea's figures are read by. */
export interface Readings {
  terms: RankingTerms
  past: Past
}

/** What an idea is worth and what it costs to learn, by its figures and what is expected of it. */
export function assess(
  figures: IdeaFigures,
  metric: IdeaMetric,
  expectation: Expectation,
  { terms, past }: Readings,
): Assessment {
  const { low, likely, high, effortDays, strength, direction } = expectation
  const unitValue = terms.unitValues[metric.id] ?? figures.unitValue
  const traffic = { ...figures, days: FIGURE_DAYS, unitValue }
  const typed: LiftRange | null = low === null || likely === null || high === null ? null : { low, likely, high }
  const cost = learningCost(traffic, metric.kind, likely ?? 0, direction)
  const drawn = typed && drawTowardPast(typed, strength, past)
  const worth = (lift: LiftRange | undefined | null) =>
    lift && effortDays !== null ? worthOf(traffic, lift, effortDays, terms) : null
  return {
    figures: { ...figures, unitValue },

    worth: worth(drawn?.range),
    typedWorth: worth(typed),
    drawn: drawn?.range ?? null,
    weight: drawn?.weight ?? null,

    cost,
    untestable: untestable(figures, cost, likely, terms.longestWeeks),
  }
}

/** Why no test can tell here whether an idea is right; null where one can, or nothing is expected yet. */
function untestable(
  { visitors, mean, problem }: IdeaFigures,
  { weeks, visibleLift }: LearningCost,
  likely: number | null,
  longestWeeks: number,
): string | null {
  if (problem !== null) return problem
  if (visitors === 0) return 'Nobody of this audience saw these pages in the last four weeks.'
  if (mean === 0) return 'Nobody there did what the metric counts in the last four weeks.'
  if (likely === null) return null
  if (likely <= 0) return 'The likely lift is not above zero: there is nothing that a test would find.'
  if (weeks === null) return 'No number of visitors shows such a lift.'
  if (weeks <= longestWeeks) return null
  const seen =
    visibleLift === null ? '' : ` Four weeks show ${formatPercent(Number(visibleLift.toPrecision(2)))} or more.`
  return `Needs ${weeks.toLocaleString('en-US')} weeks: test it higher in the funnel, or decide without a test.${seen}`
}
