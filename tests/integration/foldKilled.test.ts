import { setTimeout as wait } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { isDatabaseAway } from '../../server/database/isDatabaseAway'
import { writeArrivals, type Arrival } from '../../server/intake/writeArrivals'
import { addMetricToStarted } from '../../server/services/experiments/addMetric'
import { findSheet } from '../../server/services/experiments/sheet'
import { openQueue } from '../../server/jobs/queue'
import { foldNews } from '../../server/services/results/fold'
import { arrivalOf, folded, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { HOUR } from '../../core/time/units'

/** Two hundred thousand views and events. */
const VISITORS = 18_500
const KILLS = 50
/** Arrivals that are written together. */
const PORTION = 400
const order = { type: 'event', name: 'order' } as const
const START = Date.now() - 5 * 24 * HOUR
const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
const queue = await openQueue(databaseUrl, 'sender')
let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number

beforeAll(async () => {
  team = await createTeam(database)
  experimentId = await startedExperiment(database, team.site.id, START, primaryMetric('Booked', 'mean', order))
})
afterAll(async () => {
  await queue.stop({ graceful: false })
  await database.$client.end()
})

/** What visitors did, in an order that has nothing to do with time, with much of it told twice. */
function disordered(): Arrival[] {
  const draw = fc.sample(
    fc.tuple(
      fc.nat(1),
      fc.integer({ min: 0, max: 96 }),
      fc.array(fc.tuple(fc.integer({ min: -40, max: 40 }), fc.integer({ min: 1, max: 9999 }), fc.nat(9)), {
        maxLength: 5,
      }),
    ),
    { numRuns: VISITORS, seed: 7 },
  )
  const arrivals = draw.flatMap(([variant, hours, orders], index) => {
    const visitor = `visitor-${index}`
    const at = START + hours * HOUR
    const exposure = (offset: number): Happening => ({
      visitor,
      at: at + offset * HOUR,
      type: 'exposure',
      experiment: experimentId,
      variant,
    })
    const happenings: Happening[] = [
      exposure(0),
      exposure(3),
      ...orders.map(([offset, cents, reference]): Happening => ({
        visitor,
        at: at + offset * HOUR,
        type: 'custom',
        name: 'order',
        amount: cents / 100,
        reference: reference < 6 ? `order-${reference}` : undefined,
      })),
    ]
    return happenings.map((each) => arrivalOf(team.site, [each]))
  })
  const again = arrivals.filter((_, index) => index % 5 === 0)
  return [...arrivals, ...again]
    .map((arrival, index) => ({ arrival, key: (index * 7919) % 10_007 }))
    .sort((a, b) => a.key - b.key)
    .map(({ arrival }) => arrival)
}

/** Ends whatever works on the database just now, as a crash would. */
const kill = () =>
  database.execute(
    sql`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND application_name = 'vetch' AND state <> 'idle' AND pid <> pg_backend_pid()`,
  )

async function surviving<Result>(work: () => Promise<Result>): Promise<Result> {
  for (;;) {
    try {
      return await work()
    } catch (error) {
      if (!isDatabaseAway(error)) throw error
      await wait(20)
    }
  }
}

/** Adds a metric while everything is under way, and computes it for those who were. */
async function addLate(): Promise<void> {
  const siteId = team.site.id
  const { version, metrics } = await findSheet(database, siteId, experimentId)
  // The connection may have been ended after the commit and before its answer.
  if (metrics.length > 1) return
  await addMetricToStarted(
    database,
    queue,
    { siteId, experimentId, personId: null },
    version,
    primaryMetric('Orders', 'conversion', order, { role: 'secondary' }),
  )
}

/** A figure a metric and variant: visitors, sum and squares of what they did from their first exposure on. */
const PLAINLY = (siteId: number) => sql`
  WITH first AS (
    SELECT DISTINCT ON (visitor_id) visitor_id, variant, occurred_at AS at FROM event
    WHERE site_id = ${siteId} AND type = 'exposure' ORDER BY visitor_id, occurred_at, id
  ), orders AS (
    SELECT DISTINCT ON (visitor_id, coalesce(once, id::text)) visitor_id, amount, occurred_at FROM event
    WHERE site_id = ${siteId} AND name = 'order' ORDER BY visitor_id, coalesce(once, id::text), occurred_at, id
  ), valued AS (
    SELECT f.variant, sum(o.amount) AS amount, count(o.amount) AS orders
    FROM first f LEFT JOIN orders o ON o.visitor_id = f.visitor_id AND o.occurred_at >= f.at GROUP BY f.visitor_id, f.variant
  ), measured AS (
    SELECT 'Booked' AS metric, variant, coalesce(amount, 0) AS value FROM valued
    UNION ALL SELECT 'Orders', variant, least(orders, 1) FROM valued
  )
  SELECT metric, variant, count(*)::int AS visitors, sum(value)::float8 AS sum, sum(value * value)::float8 AS squares
  FROM measured GROUP BY 1, 2 ORDER BY 1, 2`

const AS_FOLDED = (siteId: number) => sql`
  SELECT m.name AS metric, c.variant, c.visitors, s.sum, s.squares FROM (
    SELECT variant, sum(visitors)::int AS visitors FROM exposure_count WHERE site_id = ${siteId} AND dimension = 'day' GROUP BY 1
  ) c JOIN (
    SELECT metric_version_id, variant, sum(sum)::float8 AS sum, sum(squares)::float8 AS squares
    FROM statistic WHERE site_id = ${siteId} AND dimension = 'day' GROUP BY 1, 2
  ) s USING (variant) JOIN metric_version v ON v.id = s.metric_version_id JOIN metric m ON m.id = v.metric_id
  ORDER BY 1, 2`

test('killed fifty times while events come twice, late and out of order and a metric is added, every figure is that of one plain statement', async () => {
  const arrivals = disordered()
  let isOver = false
  const writing = (async () => {
    for (let start = 0; start < arrivals.length; start += PORTION) {
      await surviving(() => writeArrivals(database.$client, arrivals.slice(start, start + PORTION)))
      if (start === Math.floor(arrivals.length / 2 / PORTION) * PORTION) await surviving(addLate)
    }
  })()
  const folding = (async () => {
    while (!isOver) await surviving(() => foldNews(database.$client, { portion: 5000 }))
  })()
  for (let times = 0; times < KILLS; times++) {
    await wait(20 + ((times * 370) % 900))
    await surviving(kill)
  }
  await writing
  isOver = true
  await folding
  const siteId = team.site.id
  await surviving(() => folded(database, siteId))
  const asFolded = async () => (await database.execute(AS_FOLDED(siteId))).rows
  await expect.poll(async () => (await asFolded()).length, { timeout: 60_000 }).toBe(4)
  await expect
    .poll(
      async () =>
        (await database.execute(sql`SELECT 1 FROM background_job WHERE site_id = ${siteId} AND state <> 'done'`)).rows,
      { timeout: 60_000 },
    )
    .toEqual([])

  const rounded = (rows: Record<string, unknown>[]) =>
    rows.map(({ squares, sum, ...row }) => ({
      ...row,
      sum: Number(sum).toFixed(2),
      squares: Number(squares).toFixed(4),
    }))
  expect(rounded(await asFolded())).toEqual(rounded((await database.execute(PLAINLY(siteId))).rows))
  expect((await asFolded()).reduce((sum, { visitors }) => sum + Number(visitors), 0)).toBe(2 * VISITORS)
  const aside = await database.execute(sql`SELECT count(*)::int AS n FROM set_aside WHERE site_id = ${siteId}`)
  expect(aside.rows[0]!.n).toBe(0)
}, 400_000)
