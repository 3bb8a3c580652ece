import type { ExperimentResults } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSummary } from '../../../shared/experiments/replies'

/** One row an experiment. */
export function experimentsTable(summaries: readonly ExperimentSummary[]) {
  return summaries.map((each) => ({
    experiment: each.name,
    state: each.state,
    pages: each.pages,
    started: each.startedAt,
    ended: each.endedAt,
    visitors: each.visitors,
    verdict: each.verdict?.title ?? null,
    best_variant: each.best?.variant ?? null,
    lift: each.best?.lift ?? null,
    lift_low: each.best?.interval?.[0] ?? null,
    lift_high: each.best?.interval?.[1] ?? null,
  }))
}

/** One row a metric and arm; shares and lifts as fractions. */
export function resultsTable(results: ExperimentResults) {
  return results.metrics.flatMap(({ metric, arms, comparisons, probabilityBest }) =>
    arms.map((arm, index) => {
      const comparison = index === 0 ? null : comparisons[index - 1]!
      return {
        metric: metric.name,
        role: metric.role,
        kind: metric.kind,
        variant: results.arms[index]!.name,
        visitors: arm.visitors,
        sum: arm.sum,
        denominator: metric.kind === 'ratio' ? arm.denominator : null,
        mean: arm.mean,
        variance: arm.variance,
        lift: comparison?.lift.estimate ?? null,
        lift_low_planned: comparison?.planned?.lift.interval?.[0] ?? null,
        lift_high_planned: comparison?.planned?.lift.interval?.[1] ?? null,
        p_value_planned: comparison?.planned?.pValue ?? null,
        lift_adjusted_for_stopping: comparison?.planned?.adjusted?.lift ?? null,
        day_of_planned_look: comparison?.planned?.daysRun ?? null,
        lift_low_sequential: comparison?.sequential.lift.interval?.[0] ?? null,
        lift_high_sequential: comparison?.sequential.lift.interval?.[1] ?? null,
        p_value_sequential: comparison?.sequential.pValue ?? null,
        lift_low_fixed: comparison?.lift.interval?.[0] ?? null,
        lift_high_fixed: comparison?.lift.interval?.[1] ?? null,
        p_value_fixed: comparison?.pValue ?? null,
        p_value_adjusted: comparison?.adjustedPValue ?? null,
        lift_low_credible: comparison?.posterior.liftInterval?.[0] ?? null,
        lift_high_credible: comparison?.posterior.liftInterval?.[1] ?? null,
        probability_better: comparison?.posterior.probabilityBetter ?? null,
        expected_loss: comparison?.posterior.expectedLoss ?? null,
        lift_unadjusted: comparison?.unadjusted?.lift.estimate ?? null,
        p_value_unadjusted: comparison?.unadjusted?.pValue ?? null,
        difference_adjusted: comparison?.varianceReduction?.difference.estimate ?? null,
        p_value_covariate: comparison?.varianceReduction?.pValue ?? null,
        variance_removed: comparison?.varianceReduction?.shareRemoved ?? null,
        probability_best: probabilityBest[index] ?? null,
      }
    }),
  )
}
