import { and, eq } from 'drizzle-orm'
import { afterAll, expect, test } from 'vitest'
import { normalQuantile, normalUpperTail } from '../../core/statistics/distributions'
import type { SheetPlan } from '../../core/sheet/content'
import { connect } from '../../server/database/connect'
import { experiment, reachedVerdict, variant } from '../../server/database/schema'
import { moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { refreshDueSummaries } from '../../server/services/results/foldAndSummarize'
import { experimentResults } from '../../server/services/results/results'
import { looksOf } from '../../server/services/results/looks'
import { refreshSummaries, storedSummaries } from '../../server/services/results/summaries'
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

async function begun(
  plan: Partial<SheetPlan>,
  kind: 'conversion' | 'mean' = 'conversion',
  weights = [1, 1],
  start = START,
) {
  const { site } = await createTeam(database)
  const id = await startedExperiment(database, site.id, start, primaryMetric('Booked', kind, order))
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
        const at = start + hours * 3_600_000
        const exposed: Happening = { visitor, at, type: 'exposure', experiment: id, variant: position }
        if (index >= ordering[position]) return [exposed]
        return [exposed, { visitor, at: at + 60_000, type: 'custom', name: 'order', amount: 1 + index }]
      }).flat(),
    )
    await happen(database, site, happenings)
    await folded(database, site.id)
    await refreshDueSummaries(database, new Date())
  }
  const results = async (at = new Date()) => experimentResults(database, await findSheet(database, site.id, id), at)
  const read = async (at?: Date) => {
    const { verdict, reached, since, outlook } = await results(at)
    return { kind: verdict!.kind, reasons: verdict!.reasons, reached, since: since?.kind ?? null, outlook }
  }
  return { siteId: site.id, id, come, read, results }
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

/** The run is in its last day before the first look, so that no look comes but those that a test takes. */
const BEFORE_LOOKS = Date.now() - 13.5 * DAY
const onDay = (days: number) => new Date(BEFORE_LOOKS + days * DAY)

test('a plan that spends its error until its end is decided by a look a day, with the numbers of that look', async () => {
  const { siteId, id, come, read, results } = await begun(
    { rule: 'spending', plannedVisitors: 4000 },
    'conversion',
    [1, 1],
    BEFORE_LOOKS,
  )
  const lookOn = (day: number) => refreshSummaries(database, siteId, [id], onDay(day))
  const looks = async () => (await looksOf(database, await findSheet(database, siteId, id))).planned
  const primary = async (at: Date) => (await results(at)).metrics[0]!.comparisons[0]!

  // By the numbers alone it would ship, long before the least run.
  await come(1, [1000, 1000], [100, 135])
  await lookOn(13.9)
  expect(await looks()).toEqual([])
  expect((await primary(onDay(13.9))).planned).toBe(null)
  expect((await results(onDay(13.9))).nextLookAt).toBe(onDay(14).toISOString())

  await lookOn(14.1)
  await lookOn(14.9)
  const [first, ...more] = await looks()
  expect(more).toEqual([])
  expect(first).toMatchObject({ daysRun: 14, visitors: [1000, 1000], isLast: false })
  // Half of the plan has come: what may be spent by then, by hand (Lan, DeMets 1983).
  const spent = 0.95 * 4 * normalUpperTail(normalQuantile(1 - 0.05 / 4) / Math.sqrt(first!.share))
  expect(first!.share).toBeCloseTo(0.5, 3)
  expect(first!.bound).toBeCloseTo(normalQuantile(1 - spent / 2), 4)
  expect(await read(onDay(14.9))).toMatchObject({ kind: 'go-on', reached: null })

  // Between two looks the lift is as of now, and decides nothing.
  await come(2, [300, 300], [30, 55])
  const between = await primary(onDay(14.95))
  expect(between.lift.estimate).toBeCloseTo(190 / 130 - 1, 6)
  expect(between.planned!.lift.estimate).toBeCloseTo(0.35, 6)
  expect(await read(onDay(14.95))).toMatchObject({ kind: 'go-on', reached: null })
  expect(between.sequential.lift.interval![0]).toBeGreaterThan(0)

  await lookOn(15.1)
  const { kind, reached } = await read(onDay(15.1))
  expect(kind).toBe('ship')
  const [winner] = reached!.variants
  expect(reached).toMatchObject({ rule: 'spending', daysRun: 15, visitors: 2600 })
  expect(winner!.lift).toBeCloseTo(190 / 130 - 1, 6)
  expect(winner!.adjusted!.lift).toBeLessThan(winner!.lift!)
  expect(winner!.adjusted!.interval[0]).toBeGreaterThan(0)

  // What comes later changes neither looks nor verdict.
  const before = await looks()
  await come(3, [300, 300], [90, 20])
  await lookOn(15.9)
  expect(await looks()).toEqual(before)
  expect(await read(onDay(15.9))).toMatchObject({ kind: 'ship' })
})

test('an experiment that a person ends between two boundaries has an adjusted lift of its last look', async () => {
  const { siteId, id, come, results } = await begun(
    { rule: 'spending', plannedVisitors: 4000 },
    'conversion',
    [1, 1],
    BEFORE_LOOKS,
  )
  await come(1, [1000, 1000], [100, 112])
  await refreshSummaries(database, siteId, [id], onDay(14.1))
  const planned = async () => (await results(onDay(14.5))).metrics[0]!.comparisons[0]!.planned!
  expect((await planned()).adjusted).toBe(null)
  await moveExperiment(database, { siteId, experimentId: id, personId: null }, 'end')
  const { adjusted, lift } = await planned()
  expect(lift.estimate).toBeCloseTo(0.12, 9)
  expect(adjusted!.lift).toBeCloseTo(0.12, 2)
  expect(adjusted!.interval[0]).toBeLessThan(0)
  // What the look said is as it was.
  const [stored] = (await looksOf(database, await findSheet(database, siteId, id))).planned
  expect(stored!.adjusted).toBe(null)
})

test('the last look spends what is left, and what it leaves open stays so', async () => {
  const { siteId, id, come, read, results } = await begun(
    { rule: 'spending', plannedVisitors: 2000 },
    'conversion',
    [1, 1],
    BEFORE_LOOKS,
  )
  await come(1, [990, 1010], [100, 110])
  await refreshSummaries(database, siteId, [id], onDay(14.1))
  const [last] = (await looksOf(database, await findSheet(database, siteId, id))).planned
  // The planned visitors were there at the first look, which is the only one.
  expect(last).toMatchObject({ daysRun: 14, isLast: true, bound: expect.closeTo(normalQuantile(0.975), 4) })
  expect(await read(onDay(14.1))).toMatchObject({ kind: 'open', reached: { visitors: 2000 } })
  await come(2, [500, 500], [50, 120])
  await refreshSummaries(database, siteId, [id], onDay(15.1))
  expect(await read(onDay(15.1))).toMatchObject({ kind: 'open', since: null })
  expect((await results(onDay(15.1))).nextLookAt).toBe(null)
})
