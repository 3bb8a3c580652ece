import { inArray, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import { noMoments, type Moments } from '../../../core/statistics/moments'
import { fillCovariate } from '../../../core/statistics/varianceReduction'
import type { ExperimentSheet, MetricView } from '../../../shared/experiment'
import type { Queries } from '../../database/connect'
import { exposureCount, statistic } from '../../database/schema'
import { momentsOfSums } from './exactSums'

/** One metric's sufficient statistics, arm by arm. */
export interface MetricStatistics {
  /** The metric's values and, where anybody has one, the covariate last. */
  moments: Moments[]
  hasCovariate: boolean
  /** Visitors with an earlier visit. */
  withPast: number
  /** Visitors of each arm whose value is not zero. */
  active: number[]
}

export interface ExperimentStatistics {
  /** Visitors of each arm, the control first. */
  visitors: number[]
  crossed: number
  /** Visitors by the day of their first exposure, in the site's time zone; days without any are not there. */
  days: Map<string, number>
  /** In the order of the sheet's metrics. */
  metrics: MetricStatistics[]
}

/** Statistics of every sheet: a handful of rows a day, however many visitors there were. */
export async function readStatistics(
  database: Queries,
  sheets: readonly ExperimentSheet[],
): Promise<Map<number, ExperimentStatistics>> {
  const ids = sheets.map((sheet) => sheet.id)
  if (ids.length === 0) return new Map()
  const counts = await database
    .select({
      experimentId: exposureCount.experimentId,
      variant: exposureCount.variant,
      day: exposureCount.day,
      visitors: exposureCount.visitors,
      crossed: exposureCount.crossed,
    })
    .from(exposureCount)
    .where(inArray(exposureCount.experimentId, ids))
  const sums = await readSums(database, ids)

  return new Map(
    sheets.map((sheet) => {
      const own = counts.filter((row) => row.experimentId === sheet.id)
      const visitors = sheet.variants.map((_, position) =>
        own.filter((row) => row.variant === position).reduce((sum, row) => sum + row.visitors, 0),
      )
      const days = new Map<string, number>()
      for (const row of own) days.set(row.day, (days.get(row.day) ?? 0) + row.visitors)
      return [
        sheet.id,
        {
          visitors,
          crossed: own.reduce((sum, row) => sum + row.crossed, 0),
          days,
          metrics: sheet.metrics.map((metric) =>
            metricStatistics(
              metric,
              visitors,
              sums.filter((row) => row.experimentId === sheet.id && row.metricId === metric.id),
            ),
          ),
        },
      ]
    }),
  )
}

type SumsRow = Awaited<ReturnType<typeof readSums>>[number]

function readSums(database: Queries, ids: number[]) {
  const total = (column: AnyPgColumn) => sql<string>`sum(${column})`
  return database
    .select({
      experimentId: statistic.experimentId,
      metricId: statistic.metricId,
      variant: statistic.variant,
      hasPast: statistic.hasPast,
      visitors: total(statistic.visitors),
      active: total(statistic.active),
      y: total(statistic.sum),
      yy: total(statistic.sumOfSquares),
      z: total(statistic.denominatorSum),
      zz: total(statistic.denominatorSquares),
      zy: total(statistic.denominatorProducts),
      x: total(statistic.pastSum),
      xx: total(statistic.pastSquares),
      xy: total(statistic.pastProducts),
      xz: total(statistic.pastDenominatorProducts),
    })
    .from(statistic)
    .where(inArray(statistic.experimentId, ids))
    .groupBy(statistic.experimentId, statistic.metricId, statistic.variant, statistic.hasPast)
}

function metricStatistics(metric: MetricView, visitors: readonly number[], rows: readonly SumsRow[]): MetricStatistics {
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
  return { moments: filled, hasCovariate: withPast > 1, withPast, active: arms.map(({ active }) => active) }
}
