import { sql } from 'drizzle-orm'
import { readInteractions } from '../../../core/analysis/interactions'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { InteractionView } from '../../../shared/experiments/resultsReplies'
import type { Queries } from '../../database/connect'
import { groupBy } from '../groupBy'
import { partReading } from './partReading'
import { SUM_FORMULAS } from './queries'
import { metricStatistics, SUMS, type SumsRow } from './readStatistics'
import { lastWholeDay } from './wholeWindows'

/** With fewer shared visitors nothing could be told. */
const LEAST_SHARED = 200
/** Those with the most shared visitors; more than these are nobody's to read. */
const MOST_OTHERS = 20

const SUM_NAMES = sql.raw(SUM_FORMULAS.map(([name]) => name).join(', '))
const OPEN_SUMS = sql.raw(SUM_FORMULAS.map(([, formula]) => formula).join(', '))

interface Counted {
  other: number
  name: string
  /** Position and name of the other experiment's variant. */
  value: number
  valueName: string
  variant: number
  visitors: number
}

/**
 * The effect on the primary metric within each variant of every other experiment that ran meanwhile and shares visitors.
 * Visitors count once their observation window is over.
 */
export async function interactionsOf(database: Queries, sheet: ExperimentSheet, now: Date): Promise<InteractionView[]> {
  const primary = sheet.metrics.find(({ role }) => role === 'primary')
  if (!primary || sheet.startedAt === null || sheet.variants.length < 2) return []
  const lastDay = lastWholeDay(sheet, primary, now)
  const { rows } = await database.execute<{
    counts: Counted[] | null
    sums: (SumsRow & Pick<Counted, 'other' | 'value'>)[] | null
  }>(sql`
    WITH shared AS MATERIALIZED (
      SELECT o.experiment_id AS other, o.variant AS value, x.variant, x.visitor_id
      FROM exposure x
      JOIN exposure o ON o.site_id = x.site_id AND o.visitor_id = x.visitor_id AND o.experiment_id <> x.experiment_id
      JOIN experiment e ON e.site_id = o.site_id AND e.id = o.experiment_id AND e.deleted_at IS NULL
        AND (e.ended_at IS NULL OR e.ended_at > ${sheet.startedAt}::timestamptz)
      WHERE x.site_id = ${sheet.siteId} AND x.experiment_id = ${sheet.id} AND x.left_out IS NULL AND o.left_out IS NULL
        AND (${lastDay}::date IS NULL OR x.day <= ${lastDay}::date)
    ), s (other, value, variant, has_past, ${SUM_NAMES}) AS (
      SELECT other, value, variant, p IS NOT NULL AS has_past, ${OPEN_SUMS} FROM (
        SELECT h.other, h.value, h.variant, 1 AS sign, v.denominator AS z, v.past AS p,
          CASE WHEN m.cap IS NULL THEN v.value ELSE least(v.value, m.cap::numeric) END AS y
        FROM shared h
        JOIN visitor_value v ON v.site_id = ${sheet.siteId} AND v.visitor_id = h.visitor_id
          AND v.experiment_id = ${sheet.id} AND v.metric_version_id = ${primary.versionId}
        JOIN metric_version m ON m.site_id = v.site_id AND m.id = v.metric_version_id) each
      GROUP BY 1, 2, 3, 4
    )
    SELECT (
      SELECT json_agg(c) FROM (
        SELECT h.other, e.name, h.value, b.name AS "valueName", h.variant, count(*)::float8 AS visitors
        FROM shared h
        JOIN experiment e ON e.site_id = ${sheet.siteId} AND e.id = h.other
        JOIN variant b ON b.site_id = ${sheet.siteId} AND b.experiment_id = h.other AND b.position = h.value
        GROUP BY 1, 2, 3, 4, 5
      ) c
    ) AS counts, (
      SELECT json_agg(d) FROM (
        SELECT other, value, ${primary.versionId}::int AS metric, variant, has_past AS "hasPast", ${SUMS}
        FROM (SELECT other, value, variant, has_past, ${SUM_NAMES} FROM s) s GROUP BY 1, 2, 3, 4, 5
      ) d
    ) AS sums`)
  const sums = groupBy(rows[0]?.sums ?? [], cellOf)
  const others = [...groupBy(rows[0]?.counts ?? [], ({ other }) => other)]
    .map(([other, counted]) => ({ other, counted, visitors: counted.reduce((sum, each) => sum + each.visitors, 0) }))
    .filter(({ visitors }) => visitors >= LEAST_SHARED)
    .sort((a, b) => b.visitors - a.visitors)
    .slice(0, MOST_OTHERS)
  const shared = others.map(({ counted }) => ({
    variants: [...groupBy(counted, ({ value }) => value)]
      .sort(([a], [b]) => a - b)
      .map(([, own]) => {
        const visitors = sheet.variants.map((_, arm) => own.find(({ variant }) => variant === arm)?.visitors ?? 0)
        return {
          name: own[0]!.valueName,
          arms: metricStatistics(primary, visitors, sums.get(cellOf(own[0]!)) ?? []).moments,
        }
      }),
  }))
  const read = readInteractions(primary.kind, shared, sheet.variants.length - 1, sheet.plan.alpha)
  return others.map(({ other, counted, visitors }, place) => ({
    experimentId: other,
    name: counted[0]!.name,
    visitors,
    comparisons: read[place]!.map(({ within, differ, adjustedPValue }) => ({
      readings: within.map(partReading),
      heterogeneity: differ,
      adjustedPValue,
    })),
  }))
}

function cellOf({ other, value }: { other: number; value: number }): string {
  return `${other} ${value}`
}
