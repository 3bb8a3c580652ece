import type { SegmentView } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { analyze } from '../../../core/analysis/analysis'
import { estimateArm } from '../../../core/statistics/estimate'
import type { Moments } from '../../../core/statistics/moments'
import type { Queries } from '../../database/connect'
import { groupBy } from '../groupBy'
import { readCells, type Cell } from './readCells'
import { readStatistics } from './readStatistics'

/**
 * Lifts within each value of each segment, with p-values corrected over all of them, and the test of whether the
 * values differ. What visitors were is taken at their first exposure.
 */
export async function readSegments(database: Queries, sheet: ExperimentSheet, now: Date): Promise<SegmentView[]> {
  const cells = await readCells(database, sheet, 'segment', now)
  const statistics = (await readStatistics(database, sheet.siteId, [sheet], now)).get(sheet.id)!
  const byDimension = [...groupBy(cells, ({ dimension }) => dimension)].map(([dimension, own]) => ({
    dimension,
    cells: [...own].sort(bySize),
  }))
  byDimension.sort((a, b) => ORDER.indexOf(a.dimension) - ORDER.indexOf(b.dimension))
  if (byDimension.length === 0) return []
  const { metrics } = analyze({
    arms: sheet.variants.map((_, position) => String(position)),
    weights: sheet.variants.map(({ weight }) => weight),
    visitors: statistics.visitors,
    alpha: sheet.plan.alpha,
    plannedVisitors: sheet.plan.plannedVisitors ?? 2,
    metrics: sheet.metrics.map(({ name, kind, role, direction }, index) => ({
      name,
      kind,
      role,
      direction,
      arms: statistics.metrics[index]!.moments,
      hasCovariate: false,
      shapes: statistics.metrics[index]!.shapes,
      segments: Object.fromEntries(
        byDimension.map(({ dimension, cells }) => [dimension, momentsByPlace(cells, index)]),
      ),
    })),
  })
  return byDimension.map(({ dimension, cells }) => ({
    dimension,
    metrics: sheet.metrics.map(({ versionId, kind }, index) => ({
      metricVersionId: versionId,
      comparisons: metrics[index]!.comparisons.map(({ segments }, position) => {
        const { values, heterogeneity } = segments![dimension]!
        const readings = cells.map((cell, place) => {
          const { visitors, lift, pValue, adjustedPValue } = values[placeName(place)]!
          const mean = (arm: number) => estimateArm(kind, cell.metrics[index]!.moments[arm]!).mean
          return {
            value: cell.value,
            visitors,
            controlMean: mean(0),
            mean: mean(position + 1),
            lift,
            pValue,
            adjustedPValue,
          }
        })
        return { readings, heterogeneity }
      }),
    })),
  }))
}

/** What tells visitors apart most often comes first. */
const ORDER = ['device', 'visitor', 'source', 'country', 'language', 'system', 'browser']

/** Values are the visitors' words; places keep them from being taken for anything else. */
function momentsByPlace(cells: readonly Cell[], metric: number): Record<string, readonly Moments[]> {
  return Object.fromEntries(cells.map((cell, place) => [placeName(place), cell.metrics[metric]!.moments]))
}

const placeName = (place: number) => `place ${place}`

/** The most visitors first, and what stands for many values last. */
function bySize(a: Cell, b: Cell): number {
  const size = ({ visitors, value }: Cell) => (value === null ? -1 : visitors.reduce((sum, count) => sum + count, 0))
  return size(b) - size(a)
}
