import type { ExperimentResults, ExperimentSummary } from '../../../shared/experiment'

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

/** One row an arm; shares and lifts as fractions. */
export function resultsTable(results: ExperimentResults) {
  return results.arms.map((arm, index) => {
    const comparison = index === 0 ? null : (results.comparisons?.[index - 1] ?? null)
    return {
      variant: arm.name,
      visitors: arm.visitors,
      [results.metric?.kind === 'mean' ? 'sum' : 'conversions']: arm.sum,
      [results.metric?.kind === 'mean' ? 'mean' : 'rate']: arm.mean,
      lift: comparison?.lift.estimate ?? null,
      lift_low_sequential: comparison?.sequential.lift.interval?.[0] ?? null,
      lift_high_sequential: comparison?.sequential.lift.interval?.[1] ?? null,
      p_value_sequential: comparison?.sequential.pValue ?? null,
      lift_low_fixed: comparison?.lift.interval?.[0] ?? null,
      lift_high_fixed: comparison?.lift.interval?.[1] ?? null,
      p_value_fixed: comparison?.pValue ?? null,
      p_value_adjusted: comparison?.adjustedPValue ?? null,
      probability_better: comparison?.posterior.probabilityBetter ?? null,
      expected_loss: comparison?.posterior.expectedLoss ?? null,
    }
  })
}
