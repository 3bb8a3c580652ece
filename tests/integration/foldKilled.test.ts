import { setTimeout as wait } from 'node:timers/promises'
import { eq, sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, inject, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { isDatabaseAway } from '../../server/database/isDatabaseAway'
import { experiment } from '../../server/database/schema'
import { writeArrivals, type Arrival } from '../../server/intake/writeArrivals'
import { createExperiment, updateExperiment } from '../../server/services/experiments/experiments'
import { foldNews } from '../../server/services/results/fold'
import { arrivalOf, folded, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { createTeam } from './people'

const VISITORS = 2500
const KILLS = 50
const HOUR = 3_600_000
const START = Date.now() - 5 * 24 * HOUR
const database = connect(inject('databaseUrl'), 4)
let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number

beforeAll(async () => {
  team = await createTeam(database)
  const siteId = team.site.id
  const draft = await createExperiment(database, siteId, null, 'Killed')
  const order = { type: 'event', name: 'order' } as const
  await updateExperiment(
    database,
    { siteId, experimentId: draft.id, personId: null },
    { version: 1, metrics: [primaryMetric('Booked', 'mean', order)], pageRules: [{ match: 'exact', value: '/' }] },
  )
  await database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(START) })
    .where(eq(experiment.id, draft.id))
  experimentId = draft.id
})
afterAll(() => database.$client.end())

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
    sql`SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'vetch' AND state <> 'idle' AND pid <> pg_backend_pid()`,
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

test('killed fifty times while events come twice, late and out of order, every figure is that of one plain statement over all of them', async () => {
  const arrivals = disordered()
  let isOver = false
  const writing = (async () => {
    for (let start = 0; start < arrivals.length; start += 60)
      await surviving(() => writeArrivals(database.$client, arrivals.slice(start, start + 60)))
  })()
  const folding = (async () => {
    while (!isOver) await surviving(() => foldNews(database.$client, 700))
  })()
  for (let times = 0; times < KILLS; times++) {
    await wait(20 + ((times * 37) % 90))
    await surviving(kill)
  }
  await writing
  isOver = true
  await folding
  await surviving(() => folded(database, team.site.id))

  const siteId = team.site.id
  const expected = await database.execute(sql`
    WITH first AS (
      SELECT DISTINCT ON (visitor_id) visitor_id, variant, occurred_at AS at FROM event
      WHERE site_id = ${siteId} AND type = 'exposure' ORDER BY visitor_id, occurred_at, id
    ), orders AS (
      SELECT DISTINCT ON (visitor_id, coalesce(once, id::text)) visitor_id, amount, occurred_at FROM event
      WHERE site_id = ${siteId} AND name = 'order' ORDER BY visitor_id, coalesce(once, id::text), occurred_at, id
    ), valued AS (
      SELECT f.visitor_id, f.variant, coalesce(sum(o.amount) FILTER (WHERE o.occurred_at >= f.at), 0) AS value
      FROM first f LEFT JOIN orders o USING (visitor_id) GROUP BY 1, 2
    )
    SELECT variant, count(*)::int AS visitors, sum(value)::text AS sum, sum(value * value)::float8 AS squares FROM valued GROUP BY 1 ORDER BY 1`)
  const actual = await database.execute(sql`
    SELECT c.variant, c.visitors, s.sum, s.squares FROM (
      SELECT variant, sum(visitors)::int AS visitors FROM exposure_count WHERE site_id = ${siteId} AND dimension = 'day' GROUP BY 1
    ) c JOIN (
      SELECT variant, sum(sum)::text AS sum, sum(squares)::float8 AS squares FROM statistic WHERE site_id = ${siteId} AND dimension = 'day' GROUP BY 1
    ) s USING (variant) ORDER BY 1`)
  const readable = (rows: Record<string, unknown>[]) =>
    rows.map(({ variant, visitors, sum, squares }) => ({
      variant,
      visitors,
      sum: Number(sum),
      squares: Number(Number(squares).toFixed(4)),
    }))
  expect(readable(actual.rows)).toEqual(readable(expected.rows))
  expect(readable(actual.rows).reduce((sum, { visitors }) => sum + Number(visitors), 0)).toBe(VISITORS)
  const aside = await database.execute(sql`SELECT count(*)::int AS n FROM set_aside WHERE site_id = ${siteId}`)
  expect(aside.rows[0]!.n).toBe(0)
}, 240_000)
