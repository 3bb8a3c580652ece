import type { DayView } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { compareArms } from '../../../core/statistics/compareArms'
import { estimateArm } from '../../../core/statistics/estimate'
import type { Queries } from '../../database/connect'
import { armView } from './armView'
import { readCells } from './readCells'

/**
 * What happened with the visitors of each day, by the day of their first exposure, the earliest first. Each day stands
 * for itself: its interval is that of one look at its own visitors.
 */
export async function readDays(database: Queries, sheet: ExperimentSheet, now: Date): Promise<DayView[]> {
  const { alpha } = sheet.plan
  const cells = [...(await readCells(database, sheet, 'day', now))].sort((a, b) => (a.value! < b.value! ? -1 : 1))
  return cells.map(({ value, visitors, metrics }) => ({
    day: value!,
    visitors,
    metrics: sheet.metrics.map(({ versionId, kind, direction }, index) => {
      const { moments } = metrics[index]!
      const estimates = moments.map((arm) => estimateArm(kind, arm))
      const planned = (position: number) => Math.max(1, visitors[position]!)
      return {
        metricVersionId: versionId,
        arms: moments.map((arm, position) => armView(kind, arm, estimates[position]!)),
        lifts: estimates.slice(1).map((estimate, position) => {
          const plannedVisitors = { control: planned(0), variant: planned(position + 1) }
          return compareArms(estimates[0]!, estimate, { kind, direction, alpha, plannedVisitors }).lift
        }),
      }
    }),
  }))
}
