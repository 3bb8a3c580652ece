import { and, eq, gte, isNull, lt, or, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import type { SingleEffect } from '../../../core/analysis/sumOfEffects'
import type { MetricKind } from '../../../core/statistics/estimate'
import { asMeasured } from '../../../core/sheet/wordings'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { KeptThing } from '../../../shared/traffic/holdoutReading'
import type { Queries } from '../../database/connect'
import { experiment, rollout } from '../../database/schema'
import { findSheets } from '../experiments/sheet'
import { readStatistics, type ExperimentStatistics } from '../results/readStatistics'
import { allocationOf, readMetrics } from '../results/results'
import { concerns } from './heldOut'

/** Something that is kept from a holdout's visitors, with what its own measurement says of each of its metrics. */
export interface MeasuredThing extends KeptThing {
  metrics: { id: string; kind: MetricKind; effects: SingleEffect[] }[]
}

/** What was begun or rolled out in the period of a holdout, in the order of its start. */
export async function keptThings(
  database: Queries,
  siteId: number,
  { startsAt, endsAt }: { startsAt: Date; endsAt: Date },
  now: Date,
): Promise<MeasuredThing[]> {
  const within = (column: AnyPgColumn) => and(gte(column, startsAt), lt(column, endsAt))
  const rows = await database
    .select({ id: experiment.id })
    .from(experiment)
    .leftJoin(rollout, and(eq(rollout.siteId, siteId), eq(rollout.experimentId, experiment.id)))
    .where(
      and(
        eq(experiment.siteId, siteId),
        isNull(experiment.deletedAt),
        or(within(experiment.startedAt), within(rollout.createdAt)),
      ),
    )
  const ids = rows.map(({ id }) => id)
  const sheets = (await findSheets(database, siteId, ids)).map(asMeasured)
  const statistics = await readStatistics(database, siteId, sheets, now)
  const rolledOut = await visitorsOfRollouts(database, siteId, ids)
  return sheets
    .map((sheet) => {
      const isKeptFrom = concerns({ startsAt, endsAt }, new Date(sheet.startedAt!))
      return thingOf(sheet, isKeptFrom, statistics.get(sheet.id)!, rolledOut.get(sheet.id))
    })
    .sort((a, b) => Date.parse(a.begunAt) - Date.parse(b.begunAt))
}

type RolledOut = {
  position: number
  begunAt: string
  /** Who got it by the rollout. */
  served: number
  /** Who got it in the experiment, by its rollout, or both. */
  visitors: number
}

function thingOf(
  sheet: ExperimentSheet,
  /** Whether the experiment itself was kept from the holdout's visitors, and not only what it has won. */
  isKeptFrom: boolean,
  statistics: ExperimentStatistics,
  rolledOut: RolledOut | undefined,
): MeasuredThing {
  const { id, name, purpose, state, startedAt } = sheet
  const isDistrusted = allocationOf(sheet, statistics)?.alarm ?? false
  // Who had the variant, and then the rollout of it, got one thing.
  const got = statistics.visitors.map((visitors, position) => {
    const own = rolledOut?.position === position ? rolledOut : null
    return isKeptFrom ? (own?.visitors ?? visitors) : (own?.served ?? 0)
  })
  return {
    experiment: id,
    name,
    purpose,
    state,
    begunAt: isKeptFrom ? startedAt! : rolledOut!.begunAt,
    isDistrusted,
    visitors: got.slice(1).reduce((sum, visitors) => sum + visitors, 0),
    metrics: (isDistrusted ? [] : readMetrics(sheet, statistics, new Map())).map(({ metric, comparisons }) => ({
      id: metric.id,
      kind: metric.kind,
      effects: comparisons.flatMap(({ difference: { estimate, standardError } }, index) =>
        estimate === null || standardError === null
          ? []
          : [{ difference: estimate, standardError, visitors: got[index + 1]! }],
      ),
    })),
  }
}

/** By experiment, who got what it kept. */
async function visitorsOfRollouts(
  database: Queries,
  siteId: number,
  ids: readonly number[],
): Promise<Map<number, RolledOut>> {
  if (ids.length === 0) return new Map()
  const { rows } = await database.execute<RolledOut & { experiment: number }>(sql`
    WITH served AS (
      SELECT r.id, r.experiment_id AS experiment, r.created_at AS begun, v.position
      FROM rollout r JOIN variant v ON v.site_id = r.site_id AND v.experiment_id = r.experiment_id AND v.id = r.variant_id
      WHERE r.site_id = ${siteId} AND r.experiment_id = ANY(${sql.param([...ids])}::int[])
    )
    SELECT experiment, position, to_json(min(begun))#>>'{}' AS "begunAt", count(DISTINCT visitor)::int AS visitors,
      count(DISTINCT visitor) FILTER (WHERE is_served)::int AS served
    FROM (
      SELECT s.experiment, s.begun, s.position, x.visitor_id AS visitor, false AS is_served
      FROM served s JOIN exposure x ON x.site_id = ${siteId} AND x.experiment_id = s.experiment
        AND x.variant = s.position AND x.left_out IS NULL
      UNION ALL
      SELECT s.experiment, s.begun, s.position, e.visitor_id, true
      FROM served s JOIN event e ON e.site_id = ${siteId} AND e.type = 'exposure' AND e.experiment_id = s.id
      JOIN visitor v ON v.site_id = ${siteId} AND v.id = e.visitor_id AND v.left_out IS NULL
    ) AS got GROUP BY 1, 2`)
  return new Map(rows.map(({ experiment: of, ...rolledOut }) => [of, rolledOut]))
}
