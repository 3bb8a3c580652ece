import { and, eq, gte, sql, type SQL } from 'drizzle-orm'
import { isCrowd, visitorsOf, type Crowd, type CrowdPlace } from '../../../core/traffic/crowd'
import { firstMoment, dayAfter, siteDays } from '../../../core/time/siteDay'
import { DAY, MINUTE } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Queries } from '../../database/connect'
import { crowd } from '../../database/schema'
import { findMeasuredSheet, type Target } from '../experiments/sheet'
import { HttpProblem } from '../HttpProblem'

/** Hashes of networks are of a day: yesterday's visitors may still come. */
const LOOKED_BACK = 2 * DAY
/** Fewer of a day in all variants are not looked at. */
const LEAST_VISITORS = 30
/** Of how many what is usual is taken, and how many are too few to say. */
const SAMPLE = 10_000
const LEAST_SAMPLE = 100

interface Arrived {
  day: string
  kind: Crowd['kind']
  value: string
  variant: number
  visitors: number
  sum: number
  ofDay: number
}

/** Notes which visitors of an experiment's last days have more in common than is likely. Reads views, so it is done in the background. */
export async function noteCrowds(database: Queries, sheet: ExperimentSheet, now: Date): Promise<void> {
  const { siteId, id } = sheet
  const dayOf = siteDays(sheet.timeZone)
  const firstDay = dayOf(now.getTime() - LOOKED_BACK)
  const crowds: Crowd[] = []
  const days = { from: firstDay, to: dayOf(now.getTime()) }
  for (const large of inCommon(await arrivedTogether(database, sheet, days), sheet.variants.length)) {
    const usual = await usualPart(database, sheet, large, now)
    const found = { ...large, usual: usual ?? 1 }
    if (isCrowd(found)) crowds.push(found)
  }
  await database
    .delete(crowd)
    .where(and(eq(crowd.siteId, siteId), eq(crowd.experimentId, id), gte(crowd.day, firstDay)))
  if (crowds.length > 0)
    await database
      .insert(crowd)
      .values(crowds.map((each) => ({ siteId, experimentId: id, ...each, arms: [...each.arms] })))
      .onConflictDoNothing()
}

interface Days {
  from: string
  to: string
}

/** Whoever was first exposed on some days, with what they may have in common. Without whom robots and pace leave out. */
const arrivals = ({ siteId, id, timeZone }: ExperimentSheet, { from, to }: Days): SQL => sql`
  SELECT x.visitor_id, x.day, x.variant, common.kind, common.value
  FROM page_view v
  JOIN exposure x ON x.site_id = v.site_id AND x.view_id = v.id
  LEFT JOIN visitor w ON w.site_id = v.site_id AND w.id = v.visitor_id
  CROSS JOIN LATERAL (VALUES
    ('network', v.network),
    ('minute', to_char(x.exposed_at AT TIME ZONE ${timeZone}, 'HH24:MI')),
    ('browser', v.browser || coalesce(' ' || v.browser_version, '')),
    ('first view', CASE WHEN w.first_seen_at >= v.occurred_at THEN '' END)
  ) common (kind, value)
  WHERE v.site_id = ${siteId} AND v.occurred_at >= ${new Date(firstMoment(from, timeZone) - DAY).toISOString()}
    AND v.occurred_at < ${new Date(firstMoment(dayAfter(to), timeZone)).toISOString()}
    AND x.experiment_id = ${id} AND x.day BETWEEN ${from} AND ${to} AND common.value IS NOT NULL
    -- Whoever is left out may be taken back.
    AND (x.left_out IS NULL OR x.left_out = 'excluded')`

async function arrivedTogether(database: Queries, sheet: ExperimentSheet, days: Days): Promise<Arrived[]> {
  const { siteId, id } = sheet
  const primary = sheet.metrics.find(({ role }) => role === 'primary')
  const { rows } = await database.execute<Arrived & Record<string, unknown>>(sql`
    WITH arrived AS MATERIALIZED (${arrivals(sheet, days)}), large AS (
      SELECT day, kind, value FROM arrived GROUP BY 1, 2, 3 HAVING count(*) >= ${LEAST_VISITORS}
    ), of_day AS (
      SELECT day, count(*)::int AS visitors FROM exposure
      WHERE site_id = ${siteId} AND experiment_id = ${id} AND day BETWEEN ${days.from} AND ${days.to}
        AND (left_out IS NULL OR left_out = 'excluded')
      GROUP BY 1
    )
    SELECT a.day::text AS day, a.kind, a.value, a.variant, count(*)::int AS visitors,
      coalesce(sum(i.value), 0)::float8 AS sum, min(o.visitors) AS "ofDay"
    FROM arrived a JOIN large USING (day, kind, value) JOIN of_day o USING (day)
    LEFT JOIN visitor_value i ON i.site_id = ${siteId} AND i.visitor_id = a.visitor_id
      AND i.experiment_id = ${id} AND i.metric_version_id = ${primary?.versionId ?? 0}
    GROUP BY 1, 2, 3, 4`)
  return rows
}

/** Those who would be a crowd if what they have in common were never usual. */
function inCommon(rows: readonly Arrived[], variants: number): Omit<Crowd, 'usual'>[] {
  const found = new Map<string, Omit<Crowd, 'usual'> & { arms: { visitors: number; sum: number }[] }>()
  for (const { day, kind, value, variant, visitors, sum, ofDay } of rows) {
    const key = JSON.stringify([day, kind, value])
    const own = found.get(key) ?? {
      day,
      kind,
      value,
      ofDay,
      arms: Array.from({ length: variants }, () => ({ visitors: 0, sum: 0 })),
    }
    if (own.arms[variant]) own.arms[variant] = { visitors, sum }
    found.set(key, own)
  }
  return [...found.values()].filter((each) => isCrowd({ ...each, usual: 0 }))
}

/** What part of visitors is usually like a crowd; null where too few came before its day to say. */
async function usualPart(
  database: Queries,
  { siteId, id, timeZone, startedAt }: ExperimentSheet,
  { day, kind, value }: CrowdPlace,
  now: Date,
): Promise<number | null> {
  const start = firstMoment(day, timeZone)
  switch (kind) {
    case 'network':
      return 0
    case 'minute': {
      const end = Math.min(firstMoment(dayAfter(day), timeZone), now.getTime())
      return MINUTE / Math.max(MINUTE, end - Math.max(start, startedAt ? Date.parse(startedAt) : start))
    }
    case 'browser':
      return partOf(
        database,
        sql`SELECT browser || coalesce(' ' || browser_version, '') = ${value} AS is_like FROM session
          WHERE site_id = ${siteId} AND started_at < ${new Date(start).toISOString()} ORDER BY started_at DESC`,
      )
    case 'first view':
      // Ids of visitors are random, so the first of them are a sample. Of persons it is not known which browser saw it first.
      return partOf(
        database,
        sql`SELECT w.first_seen_at >= v.occurred_at AS is_like FROM (
            SELECT visitor_id, view_id FROM exposure WHERE site_id = ${siteId} AND experiment_id = ${id} AND day < ${day}
              AND left_out IS NULL ORDER BY visitor_id LIMIT ${SAMPLE}
          ) x JOIN page_view v ON v.site_id = ${siteId} AND v.visitor_id = x.visitor_id AND v.id = x.view_id
          JOIN visitor w ON w.site_id = v.site_id AND w.id = v.visitor_id`,
      )
  }
}

async function partOf(database: Queries, visitors: SQL): Promise<number | null> {
  const { rows } = await database.execute<{ alike: number; all: number }>(sql`
    SELECT count(*) FILTER (WHERE is_like)::int AS alike, count(*)::int AS "all"
    FROM (${visitors} LIMIT ${SAMPLE}) s`)
  const { alike, all } = rows[0]!
  return all < LEAST_SAMPLE ? null : alike / all
}

/** Crowds of an experiment that nobody has left out yet: the latest first, of a day the largest. */
export async function readCrowds(database: Queries, siteId: number, experimentId: number): Promise<Crowd[]> {
  const crowds = await database
    .select({
      day: crowd.day,
      kind: crowd.kind,
      value: crowd.value,
      arms: crowd.arms,
      ofDay: crowd.ofDay,
      usual: crowd.usual,
    })
    .from(crowd)
    .where(
      and(
        eq(crowd.siteId, siteId),
        eq(crowd.experimentId, experimentId),
        sql`NOT EXISTS (SELECT FROM exclusion e WHERE e.site_id = ${crowd.siteId}
          AND e.experiment_id = ${crowd.experimentId} AND e.crowd ->> 'day' = ${crowd.day}::text
          AND e.crowd ->> 'kind' = ${crowd.kind} AND e.crowd ->> 'value' = ${crowd.value})`,
      ),
    )
    .orderBy(sql`${crowd.day} DESC`, crowd.kind, crowd.value)
    .limit(20)
  return crowds.sort((a, b) => b.day.localeCompare(a.day) || visitorsOf(b) - visitorsOf(a))
}

/**
 * Whom a crowd is of.
 *
 * @throws HttpProblem 404 where nobody is
 */
export async function visitorsOfCrowd(
  database: Queries,
  { siteId, experimentId }: Target,
  { day, kind, value }: CrowdPlace,
): Promise<string[]> {
  const sheet = await findMeasuredSheet(database, siteId, experimentId)
  const { rows } = await database.execute<{ id: string }>(sql`
    SELECT visitor_id AS id FROM (${arrivals(sheet, { from: day, to: day })}) a
    WHERE a.day = ${day} AND a.kind = ${kind} AND a.value = ${value}`)
  if (rows.length === 0) throw new HttpProblem(404, 'Nobody who counts is of this crowd any more. Reload the page.')
  return rows.map(({ id }) => id)
}
