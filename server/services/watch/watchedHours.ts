import { and, eq, gte, inArray, lt, lte, sql } from 'drizzle-orm'
import { HOUR } from '../../../core/time/units'
import type { HourlySums } from '../../../core/watch/hourlySums'
import { LATE_ARRIVAL, type Arrivals, type WatchedSite } from '../../../core/watch/site'
import type { Queries } from '../../database/connect'
import { watchedHour, type WatchedCounts } from '../../database/schema'
import { groupBy } from '../groupBy'

/** Hours that say what an hour of the week brings, and those that stand beside the last day of an experiment. */
const SITE_HOURS = 5 * 168
const EXPERIMENT_HOURS = 8 * 24
/** Visits of an hour may still come in some hours later. */
const LATE_HOURS = 3

/** The hour that a moment lies in. */
export function hourOf(at: Date): Date {
  return new Date(Math.floor(at.getTime() / HOUR) * HOUR)
}

/** Counts the visits of each hour that is over: all of them at first, then the latest. */
export async function noteVisits(database: Queries, siteId: number, now: Date): Promise<void> {
  const until = hourOf(now)
  const [latest] = await database
    .select({ hour: sql<Date | null>`max(${watchedHour.hour})`.mapWith(watchedHour.hour) })
    .from(watchedHour)
    .where(and(ofSite(siteId), sql`${watchedHour.counts} ? 'visits'`))
  const from = latest?.hour
    ? Math.max(until.getTime() - SITE_HOURS * HOUR, latest.hour.getTime() - LATE_HOURS * HOUR)
    : until.getTime() - SITE_HOURS * HOUR
  await database.execute(sql`
    INSERT INTO watched_hour (site_id, experiment_id, hour, counts)
    SELECT ${siteId}, 0, hour, jsonb_build_object('visits', count(s.id))
    FROM generate_series(${new Date(from)}::timestamptz, ${until}::timestamptz - interval '1 hour', interval '1 hour') AS hour
    LEFT JOIN session s ON s.site_id = ${siteId} AND s.started_at >= hour AND s.started_at < hour + interval '1 hour'
    GROUP BY hour
    ON CONFLICT (site_id, experiment_id, hour) DO UPDATE SET counts = watched_hour.counts || excluded.counts`)
}

/**
 * Counts the views that came in since the last look, to the hour of now. The first look counts none, and neither does one
 * before which nobody has looked for hours: what came meanwhile would seem to have come in this one.
 */
export async function noteArrivals(database: Queries, siteId: number, now: Date): Promise<void> {
  const lately = new Date(hourOf(now).getTime() - LATE_HOURS * HOUR)
  const [last] = await database
    .select({ seq: sql<number | null>`max((${watchedHour.counts}->>'seq')::bigint)`.mapWith(Number) })
    .from(watchedHour)
    .where(and(ofSite(siteId), gte(watchedHour.hour, lately)))
  await database.execute(sql`
    WITH came AS (
      SELECT count(*) AS arrived, max(seq) AS seq,
        count(*) FILTER (WHERE received_at > occurred_at + make_interval(mins => ${LATE_ARRIVAL})) AS late
      FROM page_view WHERE site_id = ${siteId} AND seq > ${last?.seq ?? null}),
    newest AS (
      SELECT coalesce((SELECT seq FROM came), ${last?.seq ?? null},
        (SELECT max(seq) FROM page_view WHERE site_id = ${siteId}), 0) AS seq)
    INSERT INTO watched_hour AS w (site_id, experiment_id, hour, counts)
    SELECT ${siteId}, 0, ${hourOf(now)}, jsonb_build_object('arrived', arrived, 'arrivedLate', late, 'seq', newest.seq)
    FROM came, newest
    ON CONFLICT (site_id, experiment_id, hour) DO UPDATE SET counts = w.counts || jsonb_build_object(
      'arrived', coalesce((w.counts->>'arrived')::bigint, 0) + (excluded.counts->>'arrived')::bigint,
      'arrivedLate', coalesce((w.counts->>'arrivedLate')::bigint, 0) + (excluded.counts->>'arrivedLate')::bigint,
      'seq', excluded.counts->'seq')`)
}

/** Of the last day, and of the seven days before. */
export async function readArrivals(database: Queries, siteId: number, now: Date): Promise<WatchedSite['arrivals']> {
  const from = new Date(hourOf(now).getTime() - EXPERIMENT_HOURS * HOUR)
  const rows = await hoursOf(database, siteId, [0], from, hourOf(now))
  const lastDay = hourOf(now).getTime() - 24 * HOUR
  const sumOf = (hours: typeof rows): Arrivals => ({
    late: hours.reduce((sum, { counts }) => sum + (counts.arrivedLate ?? 0), 0),
    all: hours.reduce((sum, { counts }) => sum + (counts.arrived ?? 0), 0),
  })
  return {
    lately: sumOf(rows.filter(({ hour }) => hour.getTime() > lastDay)),
    before: sumOf(rows.filter(({ hour }) => hour.getTime() <= lastDay)),
  }
}

/** Visits of each hour that is over, in their order, without gaps. */
export async function readVisits(database: Queries, siteId: number, now: Date): Promise<number[]> {
  const rows = await hoursOf(
    database,
    siteId,
    [0],
    new Date(hourOf(now).getTime() - SITE_HOURS * HOUR),
    new Date(hourOf(now).getTime() - HOUR),
  )
  const first = rows.findIndex(({ counts }) => (counts.visits ?? 0) > 0)
  // A site is new until somebody has come.
  return first < 0 ? [] : rows.slice(first).map(({ counts }) => counts.visits ?? 0)
}

/** Keeps what experiments have come to in the hour of now; what was kept earlier in it is replaced. */
export async function noteSums(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
  now: Date,
): Promise<void> {
  if (experimentIds.length === 0) return
  const ids = sql.param([...experimentIds])
  await database.execute(sql`
    WITH visitors AS (
      SELECT experiment_id, jsonb_agg(visitors ORDER BY position) AS visitors FROM (
        SELECT v.experiment_id, v.position, coalesce(sum(c.visitors), 0) AS visitors
        FROM variant v LEFT JOIN exposure_count c
          ON c.site_id = ${siteId} AND c.experiment_id = v.experiment_id AND c.variant = v.position AND c.dimension = 'day'
        WHERE v.site_id = ${siteId} AND v.experiment_id = ANY(${ids}::int[]) GROUP BY 1, 2) each
      GROUP BY 1),
    shown AS (
      SELECT experiment_id, jsonb_agg(timed ORDER BY position) AS timed, jsonb_agg(late ORDER BY position) AS late FROM (
        SELECT v.experiment_id, v.position, coalesce(sum(c.visitors), 0) AS timed,
          coalesce(sum(c.visitors) FILTER (WHERE c.value = 'late'), 0) AS late
        FROM variant v LEFT JOIN exposure_count c
          ON c.site_id = ${siteId} AND c.experiment_id = v.experiment_id AND c.variant = v.position AND c.dimension = 'shown'
        WHERE v.site_id = ${siteId} AND v.experiment_id = ANY(${ids}::int[]) GROUP BY 1, 2) each
      GROUP BY 1),
    active AS (
      SELECT experiment_id, jsonb_object_agg(metric_version_id, active) AS active FROM (
        SELECT experiment_id, metric_version_id, jsonb_agg(active ORDER BY position) AS active FROM (
          SELECT v.experiment_id, m.metric_version_id, v.position, coalesce(sum(s.active), 0) AS active
          FROM variant v
          JOIN experiment_metric m ON m.site_id = ${siteId} AND m.experiment_id = v.experiment_id
          LEFT JOIN statistic s ON s.site_id = ${siteId} AND s.experiment_id = v.experiment_id
            AND s.dimension = 'day' AND s.metric_version_id = m.metric_version_id AND s.variant = v.position
          WHERE v.site_id = ${siteId} AND v.experiment_id = ANY(${ids}::int[]) GROUP BY 1, 2, 3) each
        GROUP BY 1, 2) each
      GROUP BY 1)
    INSERT INTO watched_hour (site_id, experiment_id, hour, counts)
    SELECT ${siteId}, v.experiment_id, ${hourOf(now)}, jsonb_build_object('visitors', v.visitors, 'timed', s.timed, 'late', s.late,
      'active', coalesce(a.active, '{}'))
    FROM visitors v JOIN shown s USING (experiment_id) LEFT JOIN active a USING (experiment_id)
    ON CONFLICT (site_id, experiment_id, hour) DO UPDATE SET counts = excluded.counts`)
}

/** What an experiment has come to, as the watch reads it. */
export interface ReadSums {
  /** By the end of each hour that is over, with the visits of the site in that hour. */
  sums: HourlySums[]
  /** Of each arm by now. */
  visitors: number[]
}

/** What experiments had come to, by their ids. */
export async function readSums(
  database: Queries,
  siteId: number,
  experimentIds: readonly number[],
  now: Date,
): Promise<Map<number, ReadSums>> {
  const until = hourOf(now)
  const from = new Date(until.getTime() - EXPERIMENT_HOURS * HOUR)
  const rows = groupBy(
    await hoursOf(database, siteId, [0, ...experimentIds], from, until),
    ({ experimentId }) => experimentId,
  )
  const visits = byHour(rows.get(0) ?? [])
  return new Map(experimentIds.map((id) => [id, sumsOf(byHour(rows.get(id) ?? []), visits, until)]))
}

type CountsByHour = ReadonlyMap<number, WatchedCounts>

function byHour(rows: readonly { hour: Date; counts: WatchedCounts }[]): CountsByHour {
  return new Map(rows.map(({ hour, counts }) => [hour.getTime(), counts]))
}

function sumsOf(own: CountsByHour, visits: CountsByHour, until: Date): ReadSums {
  const sums: HourlySums[] = []
  // An hour in which nobody looked would make what came in it seem to have come in the next.
  for (let at = until.getTime() - HOUR; own.has(at); at -= HOUR) {
    const { visitors = [], timed = [], late = [], active = {} } = own.get(at)!
    sums.push({ visits: visits.get(at)?.visits ?? 0, visitors, timed, late, active })
  }
  return { sums: sums.reverse(), visitors: own.get(until.getTime())?.visitors ?? [] }
}

/** Counts the visitors to whom each rollout was shown, by hour that is over: of eight days at first, then the latest. */
export async function noteShown(
  database: Queries,
  siteId: number,
  rolloutIds: readonly number[],
  now: Date,
): Promise<void> {
  if (rolloutIds.length === 0) return
  const until = hourOf(now)
  await database.execute(sql`
    WITH due AS (
      SELECT r.id, greatest(
        date_trunc('hour', r.created_at, 'UTC'),
        ${new Date(until.getTime() - EXPERIMENT_HOURS * HOUR)}::timestamptz,
        (SELECT max(hour) - make_interval(hours => ${LATE_HOURS}) FROM watched_hour w
         WHERE w.site_id = ${siteId} AND w.experiment_id = r.id)) AS "from"
      FROM rollout r WHERE r.site_id = ${siteId} AND r.id = ANY(${sql.param([...rolloutIds])}::int[])
        -- Once an hour is enough: nothing is counted of the hour of now.
        AND NOT EXISTS (
          SELECT FROM watched_hour w WHERE w.site_id = ${siteId} AND w.experiment_id = r.id
            AND w.hour = ${until}::timestamptz - interval '1 hour')),
    shown AS (
      SELECT e.experiment_id AS id, date_trunc('hour', e.occurred_at, 'UTC') AS hour,
        count(DISTINCT e.visitor_id) AS visitors
      FROM event e JOIN due ON due.id = e.experiment_id AND e.occurred_at >= due."from"
      WHERE e.site_id = ${siteId} AND e.type = 'exposure' AND e.occurred_at < ${until}
        AND e.occurred_at >= (SELECT min("from") FROM due)
      GROUP BY 1, 2)
    INSERT INTO watched_hour (site_id, experiment_id, hour, counts)
    SELECT ${siteId}, due.id, hour, jsonb_build_object('shown', coalesce(shown.visitors, 0))
    FROM due
    CROSS JOIN LATERAL generate_series(due."from", ${until}::timestamptz - interval '1 hour', interval '1 hour') AS hour
    LEFT JOIN shown USING (id, hour)
    ON CONFLICT (site_id, experiment_id, hour) DO UPDATE SET counts = excluded.counts`)
}

/**
 * What rollouts had come to by the end of each hour, by their ids, as if each were an experiment with a single arm.
 *
 * @param since - when each began to be served as it is now: what came before is not its usual
 */
export async function readShown(
  database: Queries,
  siteId: number,
  since: ReadonlyMap<number, Date>,
  now: Date,
): Promise<Map<number, HourlySums[]>> {
  const until = new Date(hourOf(now).getTime() - HOUR)
  const from = new Date(hourOf(now).getTime() - EXPERIMENT_HOURS * HOUR)
  const rows = groupBy(
    await hoursOf(database, siteId, [0, ...since.keys()], from, until),
    ({ experimentId }) => experimentId,
  )
  const visits = byHour(rows.get(0) ?? [])
  return new Map(
    [...since].map(([id, begun]) => {
      let visitors = 0
      const own = (rows.get(id) ?? []).filter(({ hour }) => hour >= begun)
      return [
        id,
        own.map(({ hour, counts }): HourlySums => {
          visitors += counts.shown ?? 0
          return {
            visits: visits.get(hour.getTime())?.visits ?? 0,
            visitors: [visitors],
            timed: [0],
            late: [0],
            active: {},
          }
        }),
      ]
    }),
  )
}

/** Lets hours go that nothing is judged by any more. */
export async function forgetOldHours(database: Queries, siteId: number, now: Date): Promise<void> {
  const before = new Date(hourOf(now).getTime() - SITE_HOURS * HOUR)
  await database.delete(watchedHour).where(and(eq(watchedHour.siteId, siteId), lt(watchedHour.hour, before)))
}

const ofSite = (siteId: number) => and(eq(watchedHour.siteId, siteId), eq(watchedHour.experimentId, 0))

/** @param until - the last hour that is wanted */
function hoursOf(database: Queries, siteId: number, experimentIds: readonly number[], from: Date, until: Date) {
  return database
    .select({ experimentId: watchedHour.experimentId, hour: watchedHour.hour, counts: watchedHour.counts })
    .from(watchedHour)
    .where(
      and(
        eq(watchedHour.siteId, siteId),
        inArray(watchedHour.experimentId, [...experimentIds]),
        gte(watchedHour.hour, from),
        lte(watchedHour.hour, until),
      ),
    )
    .orderBy(watchedHour.hour)
}
