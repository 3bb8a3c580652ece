import type { ExperimentSheet, MetricView } from '../../../shared/experiments/replies'
import { sql } from 'drizzle-orm'
import { firstValues, mergeMoments, noMoments, type Moments } from '../../../core/statistics/moments'
import { armShape, type ArmShape, type ThirdSums } from '../../../core/statistics/shortfall'
import { fillCovariate } from '../../../core/statistics/varianceReduction'
import type { Queries } from '../../database/connect'
import { momentsOfSums } from './exactSums'
import { groupBy } from '../groupBy'
import { lastWholeDay, wholeWindows } from './wholeWindows'

/** One metric's sufficient statistics, arm by arm. */
export interface MetricStatistics {
  /** The metric's values and, where anybody has one, the covariate last. */
  moments: Moments[]
  hasCovariate: boolean
  /** Visitors with an earlier visit. */
  withPast: number
  /** Visitors of each arm whose value is not zero. */
  active: number[]
  shapes: ArmShape[]
}

export interface ExperimentStatistics {
  /** Visitors of each arm, the control first. */
  visitors: number[]
  crossed: number
  /** Visitors by the day of their first exposure, in the site's time zone; days without any are not there. */
  days: Map<string, number>
  /** In the order of the sheet's metrics. */
  metrics: MetricStatistics[]
  /** Of a split that moves, each period by itself; empty for others. */
  periods: PeriodStatistics[]
}

/** The visitors who were drawn by the same weights. */
export interface PeriodStatistics {
  /** Of new visitors, what each arm got of them. */
  shares: number[]
  visitors: number[]
  /** In the order of the sheet's metrics. */
  metrics: MetricStatistics[]
}

interface PeriodCountRow {
  experiment: number
  period: number
  variant: number
  day: string
  visitors: number
}

interface CountRow {
  experiment: number
  variant: number
  day: string
  visitors: number
  crossed: number
}

/** Sums over visitors: y the value, z the denominator, x the past; doubled letters for sums of products. */
export interface SumsRow extends Record<
  'visitors' | 'active' | 'y' | 'yy' | 'z' | 'zz' | 'zy' | 'yyy' | 'yyz' | 'yzz' | 'zzz' | 'x' | 'xx' | 'xy' | 'xz',
  string
> {
  metric: number
  variant: number
  hasPast: boolean
}

const total = (column: string, name: string) => `sum(${column})::text AS ${name}`
/** The columns of a row of sums. */
export const SUMS = sql.raw(
  [
    total('s.visitors', 'visitors'),
    total('s.active', 'active'),
    total('s.sum', 'y'),
    total('s.squares', 'yy'),
    total('s.denominator_sum', 'z'),
    total('s.denominator_squares', 'zz'),
    total('s.denominator_products', 'zy'),
    total('s.cubes', 'yyy'),
    total('s.denominator_by_squares', 'yyz'),
    total('s.denominator_squares_by_value', 'yzz'),
    total('s.denominator_cubes', 'zzz'),
    total('s.past_sum', 'x'),
    total('s.past_squares', 'xx'),
    total('s.past_products', 'xy'),
    total('s.past_denominator_products', 'xz'),
  ].join(', '),
)

/**
 * Statistics of every sheet: a handful of rows a day, however many visitors there were. Counts and sums come from one
 * statement, so that they are of the same moment.
 */
export async function readStatistics(
  database: Queries,
  siteId: number,
  sheets: readonly ExperimentSheet[],
  now: Date,
): Promise<Map<number, ExperimentStatistics>> {
  const ids = sheets.map((sheet) => sheet.id)
  if (ids.length === 0) return new Map()
  const named = sql.param(ids)
  const moving = sql.param(sheets.filter(({ periods }) => periods.length > 0).map(({ id }) => id))
  const windows = JSON.stringify(wholeWindows(sheets, now))
  const { rows } = await database.execute<{
    counts: CountRow[] | null
    sums: (SumsRow & { experiment: number })[] | null
    periodCounts: PeriodCountRow[] | null
    periodSums: (SumsRow & { experiment: number; period: number })[] | null
  }>(sql`
    SELECT (
      SELECT json_agg(c) FROM (
        SELECT experiment_id AS experiment, variant, value AS day, visitors, crossed FROM exposure_count
        WHERE site_id = ${siteId} AND experiment_id = ANY(${named}::int[]) AND dimension = 'day'
      ) c
    ) AS counts, (
      SELECT json_agg(s) FROM (
        SELECT experiment_id AS experiment, metric_version_id AS metric, variant, has_past AS "hasPast", ${SUMS}
        FROM statistic s
        LEFT JOIN json_to_recordset(${windows}) AS w(experiment integer, metric integer, "lastDay" text)
          ON w.experiment = experiment_id AND w.metric = metric_version_id
        WHERE site_id = ${siteId} AND experiment_id = ANY(${named}::int[]) AND dimension = 'day'
          AND (w."lastDay" IS NULL OR s.value <= w."lastDay")
        GROUP BY 1, 2, 3, 4
      ) s
    ) AS sums, (
      SELECT json_agg(c) FROM (
        SELECT experiment_id AS experiment, variant, split_part(value, ' ', 1)::int AS period,
          split_part(value, ' ', 2) AS day, visitors
        FROM exposure_count
        WHERE site_id = ${siteId} AND experiment_id = ANY(${moving}::int[]) AND dimension = 'period'
      ) c
    ) AS "periodCounts", (
      SELECT json_agg(s) FROM (
        SELECT experiment_id AS experiment, split_part(s.value, ' ', 1)::int AS period, metric_version_id AS metric,
          variant, has_past AS "hasPast", ${SUMS}
        FROM statistic s
        LEFT JOIN json_to_recordset(${windows}) AS w(experiment integer, metric integer, "lastDay" text)
          ON w.experiment = experiment_id AND w.metric = metric_version_id
        WHERE site_id = ${siteId} AND experiment_id = ANY(${moving}::int[]) AND dimension = 'period'
          AND (w."lastDay" IS NULL OR split_part(s.value, ' ', 2) <= w."lastDay")
        GROUP BY 1, 2, 3, 4, 5
      ) s
    ) AS "periodSums"`)
  const periodCounts = groupBy(rows[0]?.periodCounts ?? [], ({ experiment }) => experiment)
  const periodSums = groupBy(rows[0]?.periodSums ?? [], ({ experiment }) => experiment)
  const counts = groupBy(rows[0]?.counts ?? [], ({ experiment }) => experiment)
  const sums = groupBy(rows[0]?.sums ?? [], ({ experiment }) => experiment)
  return new Map(
    sheets.map((sheet) => [
      sheet.id,
      {
        ...statisticsOf(sheet, counts.get(sheet.id) ?? [], sums.get(sheet.id) ?? [], now),
        periods: periodStatistics(sheet, periodCounts.get(sheet.id) ?? [], periodSums.get(sheet.id) ?? [], now),
      },
    ]),
  )
}

function periodStatistics(
  sheet: ExperimentSheet,
  counts: readonly PeriodCountRow[],
  sums: readonly (SumsRow & { period: number })[],
  now: Date,
): PeriodStatistics[] {
  return sheet.periods.map(({ shares }, period) => {
    const own = counts.filter((row) => row.period === period)
    return {
      shares,
      visitors: visitorsUpTo(sheet, own, null),
      metrics: sheet.metrics.map((metric) =>
        metricStatistics(
          metric,
          visitorsUpTo(sheet, own, lastWholeDay(sheet, metric, now)),
          sums.filter((row) => row.period === period && row.metric === metric.versionId),
        ),
      ),
    }
  })
}

/** Visitors of each arm whose first exposure was on a day or before; without one, all of them. */
function visitorsUpTo(
  { variants }: ExperimentSheet,
  counts: readonly { variant: number; day: string; visitors: number }[],
  lastDay: string | null,
): number[] {
  return variants.map((_, position) =>
    counts
      .filter(({ variant, day }) => variant === position && (lastDay === null || day <= lastDay))
      .reduce((sum, row) => sum + row.visitors, 0),
  )
}

function statisticsOf(
  sheet: ExperimentSheet,
  counts: readonly CountRow[],
  sums: readonly SumsRow[],
  now: Date,
): Omit<ExperimentStatistics, 'periods'> {
  const days = new Map<string, number>()
  for (const row of counts) days.set(row.day, (days.get(row.day) ?? 0) + row.visitors)
  return {
    visitors: visitorsUpTo(sheet, counts, null),
    crossed: counts.reduce((sum, row) => sum + row.crossed, 0),
    days,
    metrics: sheet.metrics.map((metric) =>
      metricStatistics(
        metric,
        visitorsUpTo(sheet, counts, lastWholeDay(sheet, metric, now)),
        sums.filter((row) => row.metric === metric.versionId),
      ),
    ),
  }
}

/** Statistics of a metric, from the visitors of each arm who count for it, and the sums of those who have a row. */
export function metricStatistics(
  metric: MetricView,
  visitors: readonly number[],
  rows: readonly SumsRow[],
): MetricStatistics {
  const isRatio = metric.kind === 'ratio'
  const size = isRatio ? 2 : 1
  const arms = visitors.map((count, variant) => {
    const rowOf = (hasPast: boolean) => rows.find((row) => row.variant === variant && row.hasPast === hasPast)
    const [past, none] = [rowOf(true), rowOf(false)]
    const withPast = Number(past?.visitors ?? 0)
    return {
      withPast,
      active: Number(past?.active ?? 0) + Number(none?.active ?? 0),
      pastMoments: past
        ? momentsOfSums(
            withPast,
            isRatio
              ? { sums: [past.y, past.z, past.x], products: [past.yy, past.zy, past.zz, past.xy, past.xz, past.xx] }
              : { sums: [past.y, past.x], products: [past.yy, past.xy, past.xx] },
          )
        : noMoments(size + 1),
      // Visitors without a row have zeros and no past.
      otherMoments: none
        ? momentsOfSums(
            count - withPast,
            isRatio
              ? { sums: [none.y, none.z], products: [none.yy, none.zy, none.zz] }
              : { sums: [none.y], products: [none.yy] },
          )
        : { ...noMoments(size), count: count - withPast },
    }
  })
  const withPast = arms.reduce((sum, arm) => sum + arm.withPast, 0)
  const filled = fillCovariate(
    arms.map(({ pastMoments }) => pastMoments),
    arms.map(({ otherMoments }) => otherMoments),
  )
  const shapes = arms.map(({ pastMoments, otherMoments, active }, variant) =>
    armShape(
      metric.kind,
      mergeMoments(firstValues(pastMoments, size), otherMoments),
      active,
      thirdSums(rows.filter((row) => row.variant === variant)),
    ),
  )
  return {
    moments: filled,
    hasCovariate: withPast > 1,
    withPast,
    active: arms.map(({ active }) => active),
    shapes,
  }
}

function thirdSums(rows: readonly SumsRow[]): ThirdSums {
  const sumOf = (name: keyof ThirdSums) => rows.reduce((sum, row) => sum + Number(row[name]), 0)
  return { yyy: sumOf('yyy'), yyz: sumOf('yyz'), yzz: sumOf('yzz'), zzz: sumOf('zzz') }
}
