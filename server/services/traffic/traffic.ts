import { sql, type SQL } from 'drizzle-orm'
import { dayAfter } from '../../../core/time/siteDay'
import {
  daysBetween,
  readSegment,
  TRAFFIC_DIMENSIONS,
  type DimensionValues,
  type TrafficTotal,
  type TrafficView,
} from '../../../shared/traffic'
import type { Queries } from '../../database/connect'
import { session, visitor } from '../../database/schema'
import { findSite } from '../sites/sites'

/** Days of a site, both included, and perhaps one segment. */
export interface TrafficRange {
  from: string
  to: string
  segment?: string
}

const COLUMNS = {
  device: session.device,
  browser: session.browser,
  system: session.system,
  country: session.country,
  language: session.language,
} as const

const COUNTS = sql`count(DISTINCT ${session.visitorId})::float8 AS visitors, count(*)::float8 AS visits,
  coalesce(sum(${session.views}), 0)::float8 AS views`

/** Visitors, visits and views by day, by the day on which a visit began; robots are no visitors. */
export async function readTraffic(database: Queries, siteId: number, range: TrafficRange): Promise<TrafficView> {
  const { timeZone } = await findSite(database, siteId)
  const { rows: days } = await database.execute<TrafficView['days'][number]>(sql`
    SELECT to_char(${session.startedAt} AT TIME ZONE ${timeZone}, 'YYYY-MM-DD') AS day, ${COUNTS}
    FROM ${session} WHERE ${within(siteId, timeZone, range)} GROUP BY 1 ORDER BY 1`)
  const count = daysBetween(range.from, range.to) + 1
  const before = { ...range, from: dayAfter(range.from, -count), to: dayAfter(range.from, -1) }
  return {
    days: days.map(({ day, visitors, visits, views }) => ({ day, visitors, visits, views })),
    total: await readTotal(database, siteId, timeZone, range),
    before: await readTotal(database, siteId, timeZone, before),
  }
}

async function readTotal(
  database: Queries,
  siteId: number,
  timeZone: string,
  range: TrafficRange,
): Promise<TrafficTotal> {
  const { rows } = await database.execute<Record<keyof TrafficTotal, number>>(
    sql`SELECT ${COUNTS} FROM ${session} WHERE ${within(siteId, timeZone, range)}`,
  )
  const { visitors, visits, views } = rows[0]!
  return { visitors, visits, views }
}

const MOST_VALUES = 12
const LOOKED_BACK = 28

/** The values of each dimension that visitors of the last four weeks had. */
export async function readDimensionValues(database: Queries, siteId: number): Promise<DimensionValues[]> {
  const lists = TRAFFIC_DIMENSIONS.map(
    (dimension) => sql`
      (SELECT ${dimension}::text AS dimension, ${COLUMNS[dimension]} AS value,
        count(DISTINCT ${session.visitorId}) AS visitors
      FROM ${session}
      WHERE ${session.siteId} = ${siteId} AND ${session.startedAt} > now() - make_interval(days => ${LOOKED_BACK})
        AND ${COLUMNS[dimension]} IS NOT NULL AND ${isPerson(siteId)}
      GROUP BY 2 ORDER BY 3 DESC, 2 LIMIT ${MOST_VALUES})`,
  )
  const { rows } = await database.execute<{ dimension: string; value: string }>(sql.join(lists, sql` UNION ALL `))
  return TRAFFIC_DIMENSIONS.map((dimension) => ({
    dimension,
    values: rows.filter((row) => row.dimension === dimension).map(({ value }) => value),
  }))
}

function within(siteId: number, timeZone: string, { from, to, segment }: TrafficRange): SQL {
  const chosen = segment ? readSegment(segment) : null
  const midnight = (day: string) => sql`(${day}::date::timestamp AT TIME ZONE ${timeZone})`
  return sql`${session.siteId} = ${siteId} AND ${session.startedAt} >= ${midnight(from)}
    AND ${session.startedAt} < ${midnight(dayAfter(to))} AND ${isPerson(siteId)}
    ${chosen ? sql`AND ${COLUMNS[chosen.dimension]} = ${chosen.value}` : sql``}`
}

function isPerson(siteId: number): SQL {
  return sql`NOT EXISTS (SELECT 1 FROM ${visitor} WHERE ${visitor.siteId} = ${siteId}
    AND ${visitor.id} = ${session.visitorId} AND ${visitor.leftOut} IS NOT NULL)`
}
