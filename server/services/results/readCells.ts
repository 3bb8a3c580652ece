import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { sql } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { groupBy } from '../groupBy'
import { SUM_FORMULAS } from './queries'
import { metricStatistics, SUMS, type MetricStatistics, type SumsRow } from './readStatistics'
import { wholeWindows } from './wholeWindows'

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

const SUM_NAMES = sql.raw(SUM_FORMULAS.map(([name]) => name).join(', '))
const OPEN_SUMS = sql.raw(SUM_FORMULAS.map(([, formula]) => formula).join(', '))

/**
 * Statistics by day of the first exposure, or by each value of each segment. For a metric with an observation window,
 * visitors count once theirs is over: days after that are without numbers.
 *
 * Counts and sums come from one statement, so that they are of the same moment.
 *
 * @param now - moment that the numbers are of
 */
export async function readCells(
  database: Queries,
  sheet: ExperimentSheet,
  by: 'day' | 'segment',
  now: Date,
): Promise<readonly Cell[]> {
  const own = sql`site_id = ${sheet.siteId} AND experiment_id = ${sheet.id}`
  const windows = wholeWindows([sheet], now)
  const { rows } = await database.execute<{
    counts: CountRow[] | null
    open: (CountRow & { metric: number })[] | null
    sums: (SumsRow & Label)[] | null
  }>(sql`
    WITH ranked AS (
      SELECT dimension, value, row_number() OVER (PARTITION BY dimension ORDER BY sum(visitors) DESC, value) AS place
      FROM exposure_count WHERE ${own} AND (dimension = 'day') = ${by === 'day'} AND dimension NOT IN ('period', 'shown') GROUP BY 1, 2
    ), labeled AS (
      SELECT dimension, value AS stored, CASE WHEN dimension = 'day' OR place <= ${MOST_VALUES} THEN value END AS value
      FROM ranked
    ), w AS (
      SELECT * FROM json_to_recordset(${JSON.stringify(windows)}) AS w(experiment integer, metric integer, "lastDay" date)
    ), open AS (
      -- Whose windows are not over: they are in the counts and sums of their labels, and are taken out.
      SELECT l.key AS dimension, l.value, w.metric, x.variant, v.visitor_id IS NOT NULL AS has_row, -1 AS sign,
        CASE WHEN m.cap IS NULL THEN v.value ELSE least(v.value, m.cap::numeric) END AS y, v.denominator AS z,
        coalesce(v.expected, CASE WHEN m.cap IS NULL OR v.past IS NULL THEN v.past ELSE least(v.past, m.cap::numeric) END) AS p
      FROM w JOIN exposure x ON x.site_id = ${sheet.siteId} AND x.experiment_id = w.experiment AND x.day > w."lastDay" AND x.left_out IS NULL
      JOIN metric_version m ON m.site_id = x.site_id AND m.id = w.metric
      LEFT JOIN visitor_value v ON v.site_id = x.site_id AND v.visitor_id = x.visitor_id AND v.experiment_id = x.experiment_id AND v.metric_version_id = w.metric
      CROSS JOIN LATERAL jsonb_each_text(x.segments || jsonb_build_object('day', x.day)) l
      WHERE ${windows.length > 0}
    ), s AS (
      SELECT dimension, value, metric_version_id, variant, has_past, ${SUM_NAMES} FROM statistic WHERE ${own}
      UNION ALL
      SELECT dimension, value, metric, variant, p IS NOT NULL, ${OPEN_SUMS} FROM open WHERE has_row GROUP BY 1, 2, 3, 4, 5
    )
    SELECT (
      SELECT json_agg(c) FROM (
        SELECT l.dimension, l.value, e.variant, sum(e.visitors)::float8 AS visitors
        FROM exposure_count e JOIN labeled l ON l.dimension = e.dimension AND l.stored = e.value
        WHERE ${own} GROUP BY 1, 2, 3
      ) c
    ) AS counts, (
      SELECT json_agg(o) FROM (
        SELECT l.dimension, l.value, open.metric, open.variant, count(*)::float8 AS visitors
        FROM open JOIN labeled l ON l.dimension = open.dimension AND l.stored = open.value GROUP BY 1, 2, 3, 4
      ) o
    ) AS open, (
      SELECT json_agg(d) FROM (
        SELECT l.dimension, l.value, metric_version_id AS metric, variant, has_past AS "hasPast", ${SUMS}
        FROM s JOIN labeled l ON l.dimension = s.dimension AND l.stored = s.value GROUP BY 1, 2, 3, 4, 5
      ) d
    ) AS sums`)
  const sums = groupBy(rows[0]?.sums ?? [], keyOf)
  const open = groupBy(rows[0]?.open ?? [], keyOf)
  const cells = [...groupBy(rows[0]?.counts ?? [], keyOf)].map(([key, counts]) => {
    const { dimension, value } = counts[0]!
    const visitors = sheet.variants.map(
      (_, position) => counts.find(({ variant }) => variant === position)?.visitors ?? 0,
    )
    const metrics = sheet.metrics.map((metric) => {
      const ofMetric = (row: { metric: number }) => row.metric === metric.versionId
      const stillOpen = (open.get(key) ?? []).filter(ofMetric)
      const whole = visitors.map(
        (count, position) => count - (stillOpen.find(({ variant }) => variant === position)?.visitors ?? 0),
      )
      return metricStatistics(metric, whole, (sums.get(key) ?? []).filter(ofMetric))
    })
    return { dimension, value, visitors, metrics }
  })
  return cells.filter(({ visitors }) => visitors.some((count) => count > 0))
}

function keyOf({ dimension, value }: Label): string {
  return JSON.stringify([dimension, value])
}
