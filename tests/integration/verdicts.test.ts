import { and, eq } from 'drizzle-orm'
import { afterAll, expect, test } from 'vitest'
import { normalQuantile, normalUpperTail } from '../../core/statistics/distributions'
import type { SheetPlan } from '../../core/sheet/content'
import { connect } from '../../server/database/connect'
import { experiment, reachedVerdict, variant } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { refreshDueSummaries } from '../../server/services/results/foldAndSummarize'
import { experimentResults } from '../../server/services/results/results'
import { storedSummaries } from '../../server/services/results/summaries'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { today } from '../../server/services/today'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

const START = Date.now() - 20 * DAY
const order = { type: 'event', name: 'order' } as const

async function begun(plan: Partial<SheetPlan>, kind: 'conversion' | 'mean' = 'conversion', weights = [1, 1]) {
  const { site } = await createTeam(database)
  const id = await startedExperiment(database, site.id, START, primaryMetric('Booked', kind, order))
  await database
    .update(experiment)
    .set({ plan: { ...PLAN, ...plan } })
    .where(eq(experiment.id, id))
  for (const [position, weight] of weights.entries())
    await database
      .update(variant)
      .set({ weight })
      .where(and(eq(variant.experimentId, id), eq(variant.position, position)))
  let count = 0
  /** So many new visitors of each variant, of whom the first so many order. */
  const come = async (hours: number, each: readonly [number, number], ordering: readonly [number, number]) => {
    const happenings = ([0, 1] as const).flatMap((position) =>
      Array.from({ length: each[position] }, (_, index): Happening[] => {
        const visitor = `visitor-${position}-${++count}`
        const at = START + hours * 3_600_000
        const exposed: Happening = { visitor, at, type: 'exposure', experiment: id, variant: position }
        if (index >= ordering[position]) return [exposed]
        return [exposed, { visitor, at: at + 60_000, type: 'custom', name: 'order', amount: 1 + index }]
      }).flat(),
    )
    await happen(database, site, happenings)
    await folded(database, site.id)
    await refreshDueSummaries(database, new Date())
  }
  const read = async () => {
    const { verdict, reached, since, outlook } = await experimentResults(
      database,
      await findSheet(database, site.id, id),
      new Date(),
    )
    return { kind: verdict!.kind, reasons: verdict!.reasons, reached, since: since?.kind ?? null, outlook }
  }
  return { siteId: site.id, id, come, read }
}

test('the fixed rule takes one look: its verdict is kept with its numbers, and what comes later stands beside it', async () => {
  const { siteId, id, come, read } = await begun({ rule: 'fixed', plannedVisitors: 800 })
  await come(1, [300, 300], [60, 66])
  expect(await read()).toMatchObject({ kind: 'go-on', reached: null })
  await come(2, [100, 100], [20, 22])
  const first = await read()
  expect(first).toMatchObject({ kind: 'open', since: null, reached: { visitors: 800, rule: 'fixed', daysRun: 20 } })
  expect(first.reached!.variants[0]).toMatchObject({ visitors: 400, lift: expect.closeTo(0.1, 3) })

  // By what comes after, the same rule would ship.
  await come(3, [400, 400], [60, 140])
  const later = await read()
  expect(later).toMatchObject({ kind: 'open', since: 'ship' })
  expect(later.reached).toEqual(first.reached)
  await expect
    .poll(async () => (await storedSummaries(database, siteId, [id])).get(id))
    .toMatchObject({ visitors: 1600, verdict: { kind: 'open' }, since: { kind: 'ship' } })
  expect(await database.$count(reachedVerdict, eq(reachedVerdict.siteId, siteId))).toBe(1)
})

test('a verdict of the sequential rule stays when the interval opens again', async () => {
  const { come, read } = await begun({ rule: 'sequential', plannedVisitors: 4000 })
  await come(1, [1000, 1000], [100, 180])
  expect(await read()).toMatchObject({ kind: 'ship', since: null })
  await come(2, [1000, 1000], [150, 60])
  expect(await read()).toMatchObject({ kind: 'ship', since: 'go-on' })
})

test('a small arm is not read before it has enough, and the sheet says what is missing', async () => {
  const { come, read } = await begun({ rule: 'sequential', plannedVisitors: 40_000 }, 'conversion', [9, 1])
  await come(1, [1800, 200], [90, 0])
  expect(await read()).toMatchObject({
    kind: 'early',
    reached: null,
    reasons: ['“Variant B” has 0 conversions, and needs 20.'],
  })
})

test('skewed amounts in unequal arms are read only once the smaller arm has the visitors that their skewness asks for', async () => {
  const { come, read } = await begun({ rule: 'sequential', plannedVisitors: 40_000 }, 'mean', [9, 1])
  await come(1, [1800, 200], [90, 40])
  expect((await read()).reasons.join(' ')).toMatch(
    /“Variant B” has 200 visitors\. Values this skewed need about [\d,]+ in an arm that is smaller than the other\./,
  )
})

test('the chance to still end with Ship goes by the days to come, and the plan advises to stop below its limit', async () => {
  const { siteId, id, come, read } = await begun({ rule: 'fixed', plannedVisitors: 2000, leastChance: 0.6 })
  for (let day = 13; day < 20; day++) await come(24 * day + 1, [40, 40], [4, 5])
  const { kind, outlook } = await read()
  expect(kind).toBe('go-on')
  // 560 visitors so far, 80 a day: the planned 2,000 are there before the longest run is over.
  const rates = [28 / 280, 35 / 280] as const
  const variance = rates.reduce((sum, rate) => sum + (rate * (1 - rate)) / 279, 0)
  const z = (rates[1] - rates[0]) / Math.sqrt(variance)
  const growth = 2000 / 560
  const predictive = normalUpperTail((normalQuantile(0.975) - z * Math.sqrt(growth)) / Math.sqrt(growth - 1))
  expect(outlook).toMatchObject({ visitorsADay: 80, isLittle: true })
  expect(outlook!.variants).toHaveLength(1)
  expect(outlook!.variants[0]!.predictive).toBeCloseTo(predictive, 2)
  expect(outlook!.variants[0]!.asSeen).toBeGreaterThan(outlook!.variants[0]!.worthwhile)

  const told = async () => (await today(database, siteId, new Date())).needs.filter(({ kind: of }) => of === 'chance')
  // It is computed once a day: as soon as there was enough to read.
  await expect.poll(told).toMatchObject([
    {
      title: 'Started: little chance to end with Ship',
      text: expect.stringMatching(/Ship is \d+ %\. The plan advises to stop\./),
    },
  ])

  await database
    .update(experiment)
    .set({ plan: { ...PLAN, rule: 'fixed', plannedVisitors: 2000, leastChance: null } })
    .where(eq(experiment.id, id))
  expect((await read()).outlook).toMatchObject({ isLittle: false })
  await database.update(experiment).set({ state: 'paused' }).where(eq(experiment.id, id))
  expect((await read()).outlook).toBe(null)
})
