import type { ExperimentResults, LooksView, LookView } from '../../../shared/experiments/resultsReplies'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { and, asc, eq, sql } from 'drizzle-orm'
import { siteDays } from '../../../core/time/siteDay'
import type { Queries } from '../../database/connect'
import { look } from '../../database/schema'
import { readPlannedLooks } from './plannedLooks'

/** Stores what each comparison says at a moment: one row a day. */
export async function saveLooks(
  database: Queries,
  sheet: ExperimentSheet,
  results: Pick<ExperimentResults, 'metrics'>,
  asOf: Date,
): Promise<void> {
  const { siteId, id: experimentId } = sheet
  const day = siteDays(sheet.timeZone)(asOf.getTime())
  const rows = results.metrics.flatMap(({ metric, arms, comparisons }) =>
    comparisons.map((comparison, index) => ({
      siteId,
      experimentId,
      metricVersionId: metric.versionId,
      variant: index + 1,
      day,
      asOf,
      controlVisitors: arms[0]!.visitors,
      visitors: arms[index + 1]!.visitors,
      controlMean: arms[0]!.mean,
      mean: arms[index + 1]!.mean,
      lift: comparison.lift.estimate,
      low: comparison.sequential.lift.interval?.[0] ?? null,
      high: comparison.sequential.lift.interval?.[1] ?? null,
      pValue: comparison.sequential.pValue,
      fixedLow: comparison.lift.interval?.[0] ?? null,
      fixedHigh: comparison.lift.interval?.[1] ?? null,
      fixedPValue: comparison.pValue,
    })),
  )
  if (rows.length === 0) return
  const replaced = [
    'asOf',
    'controlVisitors',
    'visitors',
    'controlMean',
    'mean',
    'lift',
    'low',
    'high',
    'pValue',
    'fixedLow',
    'fixedHigh',
    'fixedPValue',
  ] as const
  const set = Object.fromEntries(
    replaced.map((name) => [
      name,
      sql.raw(`excluded."${name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)}"`),
    ]),
  )
  await database
    .insert(look)
    .values(rows)
    .onConflictDoUpdate({
      target: [look.siteId, look.experimentId, look.metricVersionId, look.variant, look.day],
      set,
      setWhere: eq(look.siteId, siteId),
    })
}

/** What each comparison said day by day, and the looks that the plan itself took. */
export async function looksOf(
  database: Queries,
  { siteId, id, timeZone }: Pick<ExperimentSheet, 'siteId' | 'id' | 'timeZone'>,
): Promise<LooksView> {
  return {
    days: await readLooks(database, siteId, id),
    planned: await readPlannedLooks(database, siteId, id, timeZone),
  }
}

/** All looks at an experiment, by metric and variant in the order of the days. */
export async function readLooks(database: Queries, siteId: number, experimentId: number): Promise<LookView[]> {
  const rows = await database
    .select()
    .from(look)
    .where(and(eq(look.siteId, siteId), eq(look.experimentId, experimentId)))
    .orderBy(asc(look.metricVersionId), asc(look.variant), asc(look.day))
  return rows.map((row) => ({
    metricVersionId: row.metricVersionId,
    variant: row.variant,
    day: row.day,
    visitors: [row.controlVisitors, row.visitors],
    means: [row.controlMean, row.mean],
    lift: row.lift,
    interval: row.low === null || row.high === null ? null : [row.low, row.high],
    pValue: row.pValue,
    fixedInterval: row.fixedLow === null || row.fixedHigh === null ? null : [row.fixedLow, row.fixedHigh],
    fixedPValue: row.fixedPValue,
  }))
}
