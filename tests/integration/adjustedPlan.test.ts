import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DAY, HOUR } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { experiment } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { lookAtTraffic } from '../../server/services/experiments/lookAtTraffic'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { noteFirstReport } from '../../server/services/sites/sites'
import { expectClose } from '../expectations'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const database = connect(ownStack().databaseUrl, 4)
afterAll(() => database.$client.end())

const NOW = Date.now()
/** The experiment began a day ago; what came before, the plan is fitted to. */
const BEGAN = NOW - DAY
let team: Awaited<ReturnType<typeof createTeam>>
let id: number

const order = (visitor: string, at: number, amount: number): Happening => ({
  visitor,
  at,
  type: 'custom',
  name: 'order',
  amount,
})
const seen = (visitor: string, at: number, source: string): Happening => ({
  visitor,
  at,
  view: { campaignSource: source, device: source === 'mail' ? 'phone' : 'desktop', visit: 2 },
})
/** A visitor with an earlier visit spends about what they spent then; whoever comes by mail spends ten more. */
function comes(visitor: string, at: number, index: number): { before: Happening[]; amount: number; source: string } {
  const source = index % 2 ? 'mail' : 'direct'
  const spent = index % 3 ? (index % 3) * 20 : 0
  const before = spent ? [order(visitor, at - 10 * DAY, spent)] : []
  return { before, amount: spent + (source === 'mail' ? 10 : 0) + (index % 5), source }
}
const read = async () => {
  await folded(database, team.site.id)
  const sheet = await findSheet(database, team.site.id, id)
  const results = await experimentResults(database, sheet, new Date(NOW))
  return { sheet, metric: results.metrics[0]!, comparison: results.metrics[0]!.comparisons[0]! }
}
const target = () => ({ siteId: team.site.id, experimentId: id, personId: null })

beforeAll(async () => {
  team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
  const lately = Array.from({ length: 600 }, (_, index) => {
    const [visitor, at] = [`lately-${index}`, BEGAN - 14 * DAY + index * HOUR * 0.3]
    const { before, amount, source } = comes(visitor, at, index)
    return [...before, seen(visitor, at, source), order(visitor, at + 1000, amount)]
  }).flat()
  await happen(database, team.site, lately)
  await folded(database, team.site.id)
  id = (await createExperiment(database, team.site.id, null, 'Adjusted')).id
  await fillSheet(database, target(), {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: { ...PLAN, adjustedBy: 'past', plannedVisitors: null, mean: null, deviation: null },
    metrics: [primaryMetric('Spent', 'mean', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'B', weight: 1, edits: [{ id: 'edit-0000', kind: 'text', selector: 'h1', original: 'a', value: 'b' }] },
    ],
  })
})

test('a plan that adjusts counts with what last month would have removed, and is fitted at the start', async () => {
  const sheet = await findSheet(database, team.site.id, id)
  const { reading, forecast } = await lookAtTraffic(database, sheet, new Date(NOW))
  const plain = await lookAtTraffic(
    database,
    { ...sheet, plan: { ...sheet.plan, adjustedBy: 'nothing' } },
    new Date(NOW),
  )
  const { explained } = forecast.expectation!
  expect(explained).toBeGreaterThan(0.9)
  expect(reading.removed).toBe(explained)
  expectClose(reading.needed!, plain.reading.needed! * (1 - explained), 0.05)
  expect(sheet.expectation).toBeNull()
  const { expectation, plan } = await moveExperiment(database, target(), 'start')
  expect(expectation).toEqual(forecast.expectation)
  expect(plan.plannedVisitors).toBe(reading.plannedVisitors)
  await database
    .update(experiment)
    .set({ startedAt: new Date(BEGAN) })
    .where(eq(experiment.id, id))
})

test('what is compared is what is left after it, in whatever order things come', async () => {
  const visitors = Array.from({ length: 200 }, (_, index) => {
    const [visitor, at] = [`run-${index}`, BEGAN + index * 1000]
    const variant = Number(index % 8 < 4)
    const { before, amount, source } = comes(visitor, at, index * 7)
    const exposed: Happening = {
      ...seen(visitor, at, source),
      type: 'page',
      events: [{ at, type: 'exposure', experiment: id, variant }],
    }
    return { before, after: [exposed, order(visitor, at + HOUR, amount + 3 * variant)] }
  })
  // What some did before arrives after their exposure was counted.
  const [early, late] = [visitors.slice(0, 150), visitors.slice(150)]
  await happen(database, team.site, [
    ...early.flatMap((each) => each.before),
    ...visitors.flatMap((each) => each.after),
  ])
  const before = await read()
  await happen(
    database,
    team.site,
    late.flatMap((each) => each.before),
  )
  const { sheet, metric, comparison } = await read()
  expect(comparison.varianceReduction!.theta).not.toBe(before.comparison.varianceReduction!.theta)

  // The same from the visitors' rows alone, by the regression of PostgreSQL with the means of the arms taken out.
  const { rows } = await database.execute<Record<'theta' | 'difference' | 'visitors', number>>(sql`
    WITH v AS (
      SELECT x.variant, v.value::float8 AS y, v.expected::float8 AS x FROM exposure x
      JOIN visitor_value v USING (site_id, visitor_id, experiment_id) WHERE x.experiment_id = ${id}
    ), arm AS (SELECT variant, avg(y) AS y, avg(x) AS x FROM v GROUP BY 1),
    slope AS (SELECT regr_slope(v.y - arm.y, v.x - arm.x) AS theta, count(*)::int AS visitors FROM v JOIN arm USING (variant))
    SELECT theta, visitors, (b.y - a.y) - theta * (b.x - a.x) AS difference
    FROM slope, arm a, arm b WHERE a.variant = 0 AND b.variant = 1`)
  const [own] = rows
  expect(own!.visitors).toBe(200)
  expectClose(comparison.varianceReduction!.theta, own!.theta, 1e-9)
  expectClose(comparison.difference.estimate!, own!.difference, 1e-9)
  // Three more in the variant: plain numbers hardly see it, adjusted ones do.
  expect(comparison.difference.estimate).toBeCloseTo(3, 0)
  expect(comparison.varianceReduction!.shareRemoved).toBeGreaterThan(0.9)
  expect(comparison.pValue).toBeLessThan(1e-6)
  expect(comparison.unadjusted!.pValue).toBeGreaterThan(0.1)
  expect(metric.withPast).toBe(200)
  // What is shown of the arms is what was counted.
  const sums = await database.execute<{ sum: number }>(sql`
    SELECT sum(value)::float8 AS sum FROM visitor_value v JOIN exposure x USING (site_id, visitor_id, experiment_id)
    WHERE experiment_id = ${id} GROUP BY variant ORDER BY variant`)
  expect(metric.arms.map((arm) => arm.sum)).toEqual(sums.rows.map((row) => row.sum))
  expect(metric.adjusted![1]!.mean! - metric.adjusted![0]!.mean!).toBeCloseTo(comparison.difference.estimate!, 9)
  expect(sheet.expectation).not.toBeNull()
})

test('a plan that adjusts by nothing, or a copy of one that was started, has nothing fitted', async () => {
  const { id: copy } = await createExperiment(database, team.site.id, null, 'Plain')
  expect((await findSheet(database, team.site.id, copy)).expectation).toBeNull()
  const refused = fillSheet(
    database,
    { ...target(), experimentId: copy },
    {
      plan: { ...PLAN, adjustedBy: 'stars' as 'past' },
    },
  )
  await expect(refused).rejects.toThrow()
})
