import { sql, type SQL } from 'drizzle-orm'
import {
  addEvents,
  cappedNumbers,
  firstOfEach,
  NOTHING,
  withVisits,
  type VisitorNumbers,
} from '../../../core/measurement/visitorNumbers'
import { earlierBehavior } from '../../../core/measurement/earlierBehavior'
import { fitExpectation, type ExpectationModel } from '../../../core/measurement/expectedValue'
import type { MetricDefinition } from '../../../core/measurement/metric'
import type { Visit } from '../../../core/measurement/visitSum'
import type { CountedLately } from '../../../core/preflight/trafficFindings'
import type { SheetMetric } from '../../../core/sheet/content'
import type { Group } from '../../../core/targeting/condition'
import type { Forecast } from '../../../core/sheet/planReading'
import { addVisitor, conversionMoments, noMoments, sampleVariance } from '../../../core/statistics/moments'
import type { Database } from '../../database/connect'
import { groupBy } from '../groupBy'
import { readFoldContext } from '../results/foldContext'
import type { StoredEvent } from '../results/storedEvent'
import { leftOutVisitors } from '../visitors/leftOut'
import { replayAudience, type ReplayedAudience } from './replayAudience'
import { MEASURED_EVENTS } from '../results/measureVisitors'
import { eventsOfVisitors, EXPOSING_VIEWS, visitsOfVisitors } from '../results/queries'
import { segmentsOf, type ExposingView } from '../results/segmentsOf'
import { DAY } from '../../../core/time/units'

const DAYS = 28
/** Visitors whose values are computed: their mean is known well enough to plan with. */
const SAMPLE = 4000
/** Distinct addresses that rules are held against. */
const MOST_ADDRESSES = 20_000
/** Above every number that arrivals get. */
const NEWEST = String(2n ** 63n - 1n)

/** An address of the site, with how often it was seen lately. */
export interface SeenAddress {
  address: string
  views: number
}

/** The addresses of the site that were seen in the last four weeks, the most visited first. */
export async function seenAddresses(database: Database, siteId: number, now: Date): Promise<SeenAddress[]> {
  const { rows } = await database.execute<Record<string, unknown> & SeenAddress>(sql`
    SELECT address, count(*)::int AS views FROM page_view
    WHERE site_id = ${siteId} AND occurred_at >= ${lookedBackTo(now)} AND occurred_at < ${now.toISOString()}
      AND NOT is_robot AND NOT is_team
    GROUP BY address ORDER BY views DESC LIMIT ${MOST_ADDRESSES}`)
  return rows
}

/**
 * What visitors of the pages did in the last four weeks: how many there were, how the primary metric was spread over
 * them, and whom each metric counted anything of. Of an audience, those whom it would have let in, from there on.
 */
export async function forecastOf(
  database: Database,
  siteId: number,
  addresses: readonly string[],
  { metrics, audience, kept }: { metrics: readonly SheetMetric[]; audience: Group | null; kept: readonly string[] },
  now: Date,
): Promise<{ forecast: Forecast; counted: CountedLately[]; replayed: ReplayedAudience | null }> {
  const nobody: Forecast = { days: DAYS, visitors: 0, sampled: 0, mean: null, deviation: null }
  if (addresses.length === 0) return { forecast: nobody, counted: [], replayed: null }
  const seen = sql`
    SELECT visitor_id, occurred_at, id FROM page_view
    WHERE site_id = ${siteId} AND occurred_at >= ${lookedBackTo(now)} AND occurred_at < ${now.toISOString()}
      AND NOT is_robot AND NOT is_team AND address = ANY(${sql.param(addresses)}::text[]) AND visitor_id NOT IN (${leftOutVisitors(siteId)})`
  const firstSeen = await firstSeenByWeek(database, seen, now)
  const everybody = firstSeen.reduce((sum, visitors) => sum + visitors, 0)
  const shares = everybody === 0 ? [] : firstSeen.map((visitors) => visitors / everybody)
  if (everybody === 0 || (metrics.length === 0 && !audience))
    return {
      forecast: { ...nobody, visitors: everybody, firstSeen: shares },
      counted: [],
      replayed: null,
    }
  const every = Math.ceil(everybody / SAMPLE)
  const { rows: came } = await database.execute<Record<string, unknown> & FirstView>(sql`
    SELECT DISTINCT ON (visitor_id) visitor_id AS visitor,
      floor(extract(epoch FROM occurred_at) * 1000)::float8 AS at, id AS view FROM (${seen}) AS seen
    WHERE abs(hashtext(visitor_id)::bigint) % ${every} = 0 ORDER BY visitor_id, occurred_at, id`)
  const tested = new Set(addresses)
  const from = Date.parse(lookedBackTo(now))
  const ids = came.map(({ visitor }) => visitor)
  const replayed = audience ? await replayAudience(database, siteId, audience, ids, tested, from, kept) : null
  const first = replayed?.entered ?? came
  const visitors = replayed ? Math.round((everybody * first.length) / Math.max(1, came.length)) : everybody
  const done = await doneBy(database, siteId, first)
  const { events, visits } = done
  const numbersOf = (metric: MetricDefinition): SeenVisitor[] =>
    withWholeWindow(first, metric, now).map(({ visitor, at, view }) => {
      const exposure = { at, view, until: null, isTested: (address: string) => tested.has(address) }
      const ofEvents = addEvents(metric, NOTHING, events.get(visitor) ?? [], exposure)
      const numbers = withVisits(metric, ofEvents, visits.get(visitor) ?? [], exposure)
      return { visitor, at, view, ...cappedNumbers(numbers, metric.cap ?? null) }
    })
  const primary = metrics.find(({ role }) => role === 'primary')
  return {
    forecast: {
      ...nobody,
      visitors,
      firstSeen: shares,
      sampled: first.length,
      ...(primary ? spread(primary, numbersOf(primary)) : {}),
      expectation: primary ? expectationOf(primary, numbersOf(primary), done) : null,
    },
    counted: metrics.map((metric) => ({
      name: metric.name,
      visitors: first.length,
      counted: numbersOf(metric).filter(({ value }) => value !== 0).length,
    })),
    replayed,
  }
}

/** Visitors by the week in which they came for the first time, of those that are looked back to. */
async function firstSeenByWeek(database: Database, seen: SQL, now: Date): Promise<number[]> {
  const { rows } = await database.execute<{ week: number; visitors: number }>(sql`
    SELECT floor(extract(epoch FROM first - ${lookedBackTo(now)}::timestamptz) / ${7 * 86_400})::int AS week, count(*)::int AS visitors
    FROM (SELECT min(occurred_at) AS first FROM (${seen}) AS seen GROUP BY visitor_id) visitors GROUP BY 1`)
  return Array.from({ length: DAYS / 7 }, (_, week) => rows.find((row) => row.week === week)?.visitors ?? 0)
}

interface FirstView {
  visitor: string
  /** ms since 1970 */
  at: number
  view: string
}

type SeenVisitor = FirstView & VisitorNumbers

/** What the metric is expected by from before the first view, fitted to visitors whose window is over. */
function expectationOf(
  { kind }: MetricDefinition,
  seen: readonly SeenVisitor[],
  { events, visits, segments }: Awaited<ReturnType<typeof doneBy>>,
): ExpectationModel | null {
  const observed = seen.map(({ visitor, at, view, value, denominator, past }) => {
    const exposure = { at, segments: segments.get(`${visitor} ${view}`) ?? {} }
    const earlier = earlierBehavior(past, events.get(visitor) ?? [], visits.get(visitor) ?? [], exposure)
    return { earlier, value, denominator }
  })
  return fitExpectation(kind, observed)
}

/**
 * What visitors did, each thing once, with amounts in the site's currency, their visits, and what they were in their
 * first view.
 */
async function doneBy(database: Database, siteId: number, first: readonly FirstView[]) {
  const client = await database.$client.connect()
  try {
    const { inMoney } = await readFoldContext(client, siteId)
    const visitors = first.map(({ visitor }) => visitor)
    const asked = [siteId, visitors, NEWEST, MEASURED_EVENTS]
    const { rows } = await client.query<StoredEvent>(eventsOfVisitors(false), asked)
    const events = groupBy(rows.map(inMoney), ({ visitor }) => visitor)
    const visits = await client.query<Visit & { visitor: string }>(visitsOfVisitors(false), [siteId, visitors])
    const named = JSON.stringify(first.map(({ visitor, view }) => ({ visitor, view })))
    const views = await client.query<ExposingView>(EXPOSING_VIEWS, [siteId, named])
    return {
      events: new Map([...events].map(([visitor, own]) => [visitor, firstOfEach(own)])),
      visits: groupBy(visits.rows, ({ visitor }) => visitor),
      segments: new Map(views.rows.map((row) => [`${row.visitor} ${row.view}`, segmentsOf(row)])),
    }
  } finally {
    client.release()
  }
}

/** Of a ratio the mean alone: planning takes its deviation from whoever knows it. */
function spread({ kind }: MetricDefinition, numbers: readonly VisitorNumbers[]): Pick<Forecast, 'mean' | 'deviation'> {
  if (kind === 'ratio') {
    const sum = (field: 'value' | 'denominator') => numbers.reduce((total, each) => total + each[field], 0)
    return { mean: sum('denominator') === 0 ? null : sum('value') / sum('denominator'), deviation: null }
  }
  const converted = numbers.filter(({ value }) => value !== 0).length
  const moments = kind === 'conversion' ? conversionMoments(numbers.length, converted) : noMoments(1)
  if (kind !== 'conversion') for (const { value } of numbers) addVisitor(moments, [value])
  return moments.count < 2
    ? { mean: null, deviation: null }
    : { mean: moments.means[0]!, deviation: Math.sqrt(sampleVariance(moments)) }
}

/** The moment that forecasts look back to. */
export function lookedBackTo(now: Date): string {
  return new Date(now.getTime() - DAYS * DAY).toISOString()
}

/** Those of the visitors whose observation window is over; all of them where it is longer than one can look back. */
function withWholeWindow(
  first: readonly FirstView[],
  { windowDays = null }: MetricDefinition,
  now: Date,
): readonly FirstView[] {
  if (windowDays === null) return first
  const whole = first.filter(({ at }) => at + windowDays * DAY <= now.getTime())
  return whole.length > 0 ? whole : first
}
