import { runTrend, type Stretch } from '../../../core/analysis/trend'
import type { Heterogeneity } from '../../../core/statistics/heterogeneity'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { TrendView } from '../../../shared/experiments/resultsReplies'
import type { Queries } from '../../database/connect'
import { partReading } from './partReading'
import { readCells } from './readCells'

/** Whether the lift of each metric is the same throughout a run, by the day of the first exposure. */
export async function readTrends(database: Queries, sheet: ExperimentSheet, now: Date): Promise<TrendView[]> {
  const cells = [...(await readCells(database, sheet, 'day', now))].sort((a, b) => (a.value! < b.value! ? -1 : 1))
  return sheet.metrics.map(({ versionId, kind }, index) => {
    const days = cells.map(({ value, metrics }) => ({ day: value!, arms: metrics[index]!.moments }))
    return {
      metricVersionId: versionId,
      comparisons: sheet.variants.slice(1).map((_, position) => {
        const read = runTrend(kind, days, position + 1, sheet.plan.alpha)
        return {
          week: stretches(read.weeks, read.weeksDiffer),
          weekday: stretches(read.parts, read.partsDiffer),
          trend: read.trend,
          firstWeek: read.firstWeek,
        }
      }),
    }
  })
}

function stretches(read: readonly Stretch[], heterogeneity: Heterogeneity) {
  return {
    readings: read.map(partReading),
    heterogeneity,
  }
}
