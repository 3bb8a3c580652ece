import { sql } from 'drizzle-orm'
import type { ExperimentSheet } from '../../../shared/experiment'
import type { Queries } from '../../database/connect'
import { groupBy } from './foldContext'
import { metricStatistics, SUMS, type MetricStatistics, type SumsRow } from './readStatistics'

/** Statistics of the visitors under one value of one dimension. */
export interface Cell {
  dimension: string
  /** null for all values together that have too few visitors to stand alone. */
  value: string | null
  /** Visitors of each arm, the control first. */
  visitors: number[]
  /** In the order of the sheet's metrics. */
  metrics: MetricStatistics[]
}

interface Label {
  dimension: string
  value: string | null
}
type CountRow = Label & { variant: number; visitors: number }

/** Values of a dimension that stand alone, those with the most visitors. */
const MOST_VALUES = 12

/**
 * Statistics by day of the first exposure, or by each value of each segment.
 *
 * Counts and sums come from one statement, so that they are of the same moment.
 */
export async function readCells(
  database: Queries,
  sheet: ExperimentSheet,
  by: 'day' | 'segment',
): Promise<readonly Cell[]> {
  const own = sql`site_id = ${sheet.siteId} AND experiment_id = ${sheet.id}`
  const { rows } = await database.execute<{ counts: CountRow[] | null; sums: (SumsRow & Label)[] | null }>(sql`
    WITH ranked AS (
      SELECT dimension, value, row_number() OVER (PARTITION BY dimension ORDER BY sum(visitors) DESC, value) AS place
      FROM exposure_count WHERE ${own} AND (dimension = 'day') = ${by === 'day'} GROUP BY 1, 2
    ), labeled AS (
      SELECT dimension, value AS stored, CASE WHEN dimension = 'day' OR place <= ${MOST_VALUES} THEN value END AS value
      FROM ranked
    )
    SELECT (
      SELECT json_agg(c) FROM (
        SELECT l.dimension, l.value, e.variant, sum(e.visitors)::float8 AS visitors
        FROM exposure_count e JOIN labeled l ON l.dimension = e.dimension AND l.stored = e.value
        WHERE ${own} GROUP BY 1, 2, 3
      ) c
    ) AS counts, (
      SELECT json_agg(d) FROM (
        SELECT l.dimension, l.value, metric_version_id AS metric, variant, has_past AS "hasPast", ${SUMS}
        FROM statistic s JOIN labeled l ON l.dimension = s.dimension AND l.stored = s.value
        WHERE ${own} GROUP BY 1, 2, 3, 4, 5
      ) d
    ) AS sums`)
  const sums = groupBy(rows[0]?.sums ?? [], keyOf)
  const cells = [...groupBy(rows[0]?.counts ?? [], keyOf)].map(([key, counts]) => {
    const { dimension, value } = counts[0]!
    const visitors = sheet.variants.map(
      (_, position) => counts.find(({ variant }) => variant === position)?.visitors ?? 0,
    )
    const metrics = sheet.metrics.map((metric) =>
      metricStatistics(
        metric,
        visitors,
        (sums.get(key) ?? []).filter((row) => row.metric === metric.versionId),
      ),
    )
    return { dimension, value, visitors, metrics }
  })
  return cells.filter(({ visitors }) => visitors.some((count) => count > 0))
}

function keyOf({ dimension, value }: Label): string {
  return JSON.stringify([dimension, value])
}
