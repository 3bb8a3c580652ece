import { sql } from 'drizzle-orm'
import { readSinceExposure, sincePeriods } from '../../../core/analysis/sinceExposure'
import { valuesSince } from '../../../core/measurement/valuesSince'
import { firstOfEach } from '../../../core/measurement/visitorNumbers'
import type { Visit } from '../../../core/measurement/visitSum'
import { addVisitor, noMoments } from '../../../core/statistics/moments'
import { DAY } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { SinceExposureView } from '../../../shared/experiments/resultsReplies'
import type { Database } from '../../database/connect'
import { groupBy } from '../groupBy'
import { readFoldContext } from './foldContext'
import { MEASURED_EVENTS } from './measureVisitors'
import { partReading } from './partReading'
import { eventsOfVisitors, visitsOfVisitors } from './queries'
import type { StoredEvent } from './storedEvent'

/** Visitors who are followed; of more, a sample. */
const MOST_VISITORS = 20_000
const AT_ONCE = 2000
/** With fewer nothing could be told. */
const LEAST_VISITORS = 100
/** Above every number that arrivals get. */
const NEWEST = String(2n ** 63n - 1n)

interface Followed {
  visitor: string
  variant: number
  /** ms since 1970 */
  at: number
  view: string
}

/**
 * The lift of one metric by the days since visitors saw an experiment first, of those who were followed through all of
 * them. It is computed from raw events: visitors whose events are not kept any more are left out.
 */
export async function sinceExposureOf(
  database: Database,
  sheet: ExperimentSheet,
  metricId: number,
  now: Date,
): Promise<SinceExposureView> {
  const nothing = (why: string): SinceExposureView => ({ visitors: 0, isSample: false, why, comparisons: [] })
  const metric = sheet.metrics.find(({ versionId }) => versionId === metricId)
  if (!metric || metric.kind === 'ratio') return nothing('Ratios are not followed from day to day.')
  const client = await database.$client.connect()
  try {
    const context = await readFoldContext(client, sheet.siteId)
    const definition = context.metricsOf(sheet.id).find(({ id }) => id === metricId)
    const end = Math.min(now.getTime(), sheet.endedAt === null ? Infinity : Date.parse(sheet.endedAt))
    const ages = await exposureAges(database, sheet, end)
    const all = ages.reduce((sum, count) => sum + count, 0)
    const followed = (days: number) => ages.slice(days).reduce((sum, count) => sum + count, 0) / Math.max(1, all)
    const periods = sincePeriods(followed, metric.windowDays)
    const horizon = periods.at(-1)?.until ?? 0
    const counted = Math.round(followed(horizon) * all)
    if (!definition || periods.length === 0 || counted < LEAST_VISITORS)
      return nothing('It is known once half of the visitors were followed for a week.')
    const rows = (await followedVisitors(database, sheet, end - horizon * DAY, counted)).filter(context.hasEvents)
    const arms = sheet.variants.map(() => noMoments(periods.length))
    for (let start = 0; start < rows.length; start += AT_ONCE) {
      const portion = rows.slice(start, start + AT_ONCE)
      const visitors = portion.map(({ visitor }) => visitor)
      const hasPersons = context.ofPersons.size > 0
      const asked = [sheet.siteId, visitors, NEWEST, MEASURED_EVENTS]
      const events = groupBy(
        (await client.query<StoredEvent>(eventsOfVisitors(hasPersons), asked)).rows.map(context.inMoney),
        ({ visitor }) => visitor,
      )
      const visits = groupBy(
        (await client.query<Visit & { visitor: string }>(visitsOfVisitors(hasPersons), [sheet.siteId, visitors])).rows,
        ({ visitor }) => visitor,
      )
      for (const { visitor, variant, at, view } of portion) {
        const exposure = context.measured({ experiment: sheet.id, at, view })
        const own = firstOfEach(events.get(visitor) ?? [])
        addVisitor(arms[variant]!, valuesSince(definition, own, visits.get(visitor) ?? [], exposure, periods))
      }
    }
    const kind = metric.kind
    return {
      visitors: rows.length,
      isSample: rows.length < counted,
      why: null,
      comparisons: sheet.variants.slice(1).map((_, index) => {
        const read = readSinceExposure(kind, periods, arms, index + 1, sheet.plan.alpha)
        return {
          readings: read.periods.map(partReading),
          heterogeneity: read.differ,
          trend: read.trend,
        }
      }),
    }
  } finally {
    client.release()
  }
}

/** How many visitors were exposed so many whole days ago, by days; those of long ago together. */
async function exposureAges(database: Database, { siteId, id }: ExperimentSheet, end: number): Promise<number[]> {
  const { rows } = await database.execute<{ age: number; visitors: number }>(sql`
    SELECT least(60, floor(extract(epoch FROM ${new Date(end)}::timestamptz - exposed_at) / 86400))::int AS age,
      count(*)::int AS visitors
    FROM exposure WHERE site_id = ${siteId} AND experiment_id = ${id} AND left_out IS NULL
      AND exposed_at <= ${new Date(end)} GROUP BY 1`)
  const ages = new Array<number>(61).fill(0)
  for (const { age, visitors } of rows) ages[age] = visitors
  return ages
}

async function followedVisitors(
  database: Database,
  { siteId, id }: ExperimentSheet,
  until: number,
  counted: number,
): Promise<Followed[]> {
  const every = Math.ceil(counted / MOST_VISITORS)
  const { rows } = await database.execute<Followed & Record<string, unknown>>(sql`
    SELECT visitor_id AS visitor, variant, floor(extract(epoch FROM exposed_at) * 1000)::float8 AS at, view_id AS view
    FROM exposure WHERE site_id = ${siteId} AND experiment_id = ${id} AND left_out IS NULL
      AND exposed_at <= ${new Date(until)} AND abs(hashtext(visitor_id)::bigint) % ${every} = 0`)
  return rows
}
