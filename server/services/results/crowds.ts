import { and, eq, gte, sql } from 'drizzle-orm'
import { isCrowd, type Crowd } from '../../../core/traffic/crowd'
import { DAY } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Queries } from '../../database/connect'
import { crowd } from '../../database/schema'

/** Hashes of networks are of a day: yesterday's visitors may still come. */
const LOOKED_BACK = 2 * DAY
/** Fewer visitors of a site are no crowd, whatever experiments they saw. */
const LEAST_OF_SITE = 30

interface Row {
  day: string
  network: string
  variant: number
  visitors: number
  sum: number
  ofDay: number
}

/** Notes which networks brought much of an experiment's last days. Reads views, so it is done in the background. */
export async function noteCrowds(database: Queries, sheet: ExperimentSheet, now: Date): Promise<void> {
  const { siteId, id } = sheet
  const primary = sheet.metrics.find(({ role }) => role === 'primary')
  const since = new Date(now.getTime() - LOOKED_BACK).toISOString()
  const { rows } = await database.execute<Row & Record<string, unknown>>(sql`
    WITH busy AS (
      SELECT network FROM page_view
      WHERE site_id = ${siteId} AND occurred_at >= ${since} AND network IS NOT NULL
      GROUP BY network HAVING count(DISTINCT visitor_id) >= ${LEAST_OF_SITE}
    ), came AS (
      SELECT x.day, v.network, x.variant, count(*)::int AS visitors, coalesce(sum(i.value), 0)::float8 AS sum
      FROM busy JOIN page_view v ON v.site_id = ${siteId} AND v.network = busy.network AND v.occurred_at >= ${since}
      JOIN exposure x ON x.site_id = ${siteId} AND x.visitor_id = v.visitor_id AND x.experiment_id = ${id}
        AND x.view_id = v.id
        -- Whoever is left out may be taken back.
        AND (x.left_out IS NULL OR x.left_out = 'excluded')
      LEFT JOIN visitor_value i ON i.site_id = ${siteId} AND i.visitor_id = x.visitor_id
        AND i.experiment_id = ${id} AND i.metric_version_id = ${primary?.versionId ?? 0}
      GROUP BY 1, 2, 3
    )
    SELECT came.day::text AS day, network, variant, visitors, sum, (
      SELECT coalesce(sum(c.visitors), 0)::int FROM exposure_count c
      WHERE c.site_id = ${siteId} AND c.experiment_id = ${id} AND c.dimension = 'day' AND c.value = came.day::text
    ) + (
      SELECT count(*)::int FROM exposure o
      WHERE o.site_id = ${siteId} AND o.experiment_id = ${id} AND o.left_out = 'excluded' AND o.day = came.day
    ) AS "ofDay" FROM came`)
  const crowds = crowdsIn(rows, sheet.variants.length).filter(isCrowd)
  const firstDay = new Date(Date.parse(since) - DAY).toISOString().slice(0, 10)
  await database
    .delete(crowd)
    .where(and(eq(crowd.siteId, siteId), eq(crowd.experimentId, id), gte(crowd.day, firstDay)))
  if (crowds.length > 0)
    await database
      .insert(crowd)
      .values(crowds.map((each) => ({ siteId, experimentId: id, ...each, arms: [...each.arms] })))
      .onConflictDoNothing()
}

function crowdsIn(rows: readonly Row[], variants: number): Crowd[] {
  const found = new Map<string, Crowd & { arms: { visitors: number; sum: number }[] }>()
  for (const { day, network, variant, visitors, sum, ofDay } of rows) {
    const key = `${day} ${network}`
    const own = found.get(key) ?? {
      day,
      network,
      ofDay,
      arms: Array.from({ length: variants }, () => ({ visitors: 0, sum: 0 })),
    }
    if (own.arms[variant]) own.arms[variant] = { visitors, sum }
    found.set(key, own)
  }
  return [...found.values()]
}

/** Crowds of an experiment that nobody has left out yet, the latest first. */
export async function readCrowds(database: Queries, siteId: number, experimentId: number): Promise<Crowd[]> {
  return database
    .select({ day: crowd.day, network: crowd.network, arms: crowd.arms, ofDay: crowd.ofDay })
    .from(crowd)
    .where(
      and(
        eq(crowd.siteId, siteId),
        eq(crowd.experimentId, experimentId),
        sql`NOT EXISTS (SELECT FROM exclusion e WHERE e.site_id = ${crowd.siteId}
          AND e.experiment_id = ${crowd.experimentId} AND e.network = ${crowd.network})`,
      ),
    )
    .orderBy(sql`${crowd.day} DESC`, crowd.network)
    .limit(20)
}
