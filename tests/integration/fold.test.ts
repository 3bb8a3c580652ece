import { eq } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { experiment } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { foldAndSummarize } from '../../server/services/results/foldAndSummarize'
import { experimentResults } from '../../server/services/results/results'
import type { SheetMetric } from '../../core/sheet/content'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

const START = Date.now() - 3 * DAY
let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number

async function startWith(...metrics: SheetMetric[]): Promise<void> {
  team = await createTeam(database)
  experimentId = await startedExperiment(database, team.site.id, START, ...metrics)
}
beforeEach(() => startWith(primaryMetric('Booked', 'mean', { type: 'event', name: 'order' })))

const row = (visitor: string, hours: number, changes: Partial<Happening>): Happening => ({
  visitor,
  at: START + hours * 3_600_000,
  ...changes,
})
const exposed = (visitor: string, hours: number, variant: number) =>
  row(visitor, hours, { type: 'exposure', experiment: experimentId, variant })
const ordered = (visitor: string, hours: number, amount: number) =>
  row(visitor, hours, { type: 'custom', name: 'order', amount })
const write = (happenings: Happening[]) => happen(database, team.site, happenings)
const settled = () => folded(database, team.site.id)

async function arms() {
  await settled()
  const sheet = await findSheet(database, team.site.id, experimentId)
  const { metrics, crossed } = await experimentResults(database, sheet, new Date())
  return { arms: metrics[0]!.arms.map(({ visitors, sum }) => [visitors, sum]), crossed }
}
test('the same events in any order and any portions give the same numbers', async () => {
  const events = [
    exposed('visitor-a', 1, 0),
    ordered('visitor-a', 2, 0.1),
    ordered('visitor-a', 3, 0.2),
    exposed('visitor-b', 1, 1),
    ordered('visitor-b', 0.5, 99),
    ordered('visitor-b', 5, 10),
    exposed('visitor-c', 4, 1),
    exposed('visitor-c', 2, 1),
    ordered('visitor-c', 3, 7),
    exposed('visitor-d', 4, 0),
    exposed('visitor-d', 6, 1),
    ordered('visitor-e', 4, 50),
  ]
  const expected = {
    arms: [
      [2, 0.3],
      [2, 17],
    ],
    crossed: 1,
  }
  for (const event of [...events].reverse()) {
    await write([event])
    await settled()
  }
  expect(await arms()).toEqual(expected)

  // Once more from nothing, all at once.
  await startWith(primaryMetric('Booked', 'mean', { type: 'event', name: 'order' }))
  await write(events.map((event) => ({ ...event, ...(event.experiment ? { experiment: experimentId } : {}) })))
  expect(await arms()).toEqual(expected)
})

test('an earlier sighting that arrives late moves the visitor with all they bought', async () => {
  await write([exposed('visitor-a', 5, 1), ordered('visitor-a', 6, 20)])
  expect(await arms()).toEqual({
    arms: [
      [0, 0],
      [1, 20],
    ],
    crossed: 0,
  })
  await write([exposed('visitor-a', 1, 0), ordered('visitor-a', 2, 5)])
  expect(await arms()).toEqual({
    arms: [
      [1, 25],
      [0, 0],
    ],
    crossed: 1,
  })
})

test('of events only those count that say what the metric asks for', async () => {
  const detail = { name: 'vehicle', is: 'oneOf', texts: ['car', 'van'] } as const
  await startWith(primaryMetric('Booked by car', 'mean', { type: 'event', name: 'order', detail }))
  const says = (hours: number, amount: number, details: Happening['details']) => ({
    ...ordered('visitor-a', hours, amount),
    details,
  })
  const events = [
    exposed('visitor-a', 1, 1),
    says(2, 5, { vehicle: 'Car' }),
    says(3, 7, { vehicle: 'none' }),
    says(4, 11, { travelers: 2 }),
    ordered('visitor-a', 5, 13),
    says(6, 17, { vehicle: 'van', travelers: 2 }),
  ]
  for (const event of events) {
    await write([event])
    await settled()
  }
  const expected = [
    [0, 0],
    [1, 22],
  ]
  expect((await arms()).arms).toEqual(expected)
  // An earlier sighting has the visitor computed anew, from what is stored.
  await write([exposed('visitor-a', 0.5, 1)])
  expect((await arms()).arms).toEqual(expected)
})

test('nothing counts after the end, and nothing of a visitor of another site', async () => {
  await database
    .update(experiment)
    .set({ state: 'ended', endedAt: new Date(START + 10 * 3_600_000) })
    .where(eq(experiment.id, experimentId))
  await write([
    exposed('visitor-a', 1, 0),
    ordered('visitor-a', 9, 5),
    ordered('visitor-a', 11, 1000),
    exposed('visitor-b', 12, 0),
  ])
  await happen(database, { ...team.site, id: team.site.id + 1 }, [ordered('visitor-a', 3, 1000)])
  expect(await arms()).toEqual({
    arms: [
      [1, 5],
      [0, 0],
    ],
    crossed: 0,
  })
})

describe('several metrics', () => {
  const order = { type: 'event', name: 'order' } as const
  const results = async () => {
    await settled()
    return experimentResults(database, await findSheet(database, team.site.id, experimentId), new Date())
  }

  test('a ratio’s sums, squares and products are those of the visitors, whatever the order', async () => {
    await startWith(
      primaryMetric('Amount per view', 'ratio', order, {
        denominator: { type: 'visit', page: { match: 'exact', value: '/' } },
      }),
    )
    const seen = (visitor: string, hours: number) => row(visitor, hours, {})
    const events = [
      exposed('visitor-a', 1, 0),
      seen('visitor-a', 1),
      seen('visitor-a', 2),
      ordered('visitor-a', 3, 7.5),
      exposed('visitor-b', 1, 0),
      seen('visitor-b', 4),
      ordered('visitor-b', 5, 2.25),
      ordered('visitor-b', 6, 1),
      exposed('visitor-c', 1, 1),
      seen('visitor-c', 1),
      exposed('visitor-d', 1, 1),
      seen('visitor-d', 2),
      seen('visitor-d', 0.4),
      ordered('visitor-d', 2, 9),
    ]
    for (const event of [...events].reverse()) await write([event])
    const {
      metrics: [ratio],
    } = await results()
    expect(ratio!.arms.map(({ visitors, sum, denominator }) => [visitors, sum, denominator])).toEqual([
      [2, 10.75, 3],
      [2, 9, 2],
    ])
    // R = 10.75/3 of visitors (7.5, 2) and (3.25, 1): s²_y 9.03125, s_yz 2.125, s²_z 0.5, z̄ 1.5.
    const R = 10.75 / 3
    expect(ratio!.arms[0]!.variance).toBeCloseTo((9.03125 - 2 * R * 2.125 + R * R * 0.5) / 2.25, 10)
  })

  test('the past is what came before the visit of the exposure, and reduces variance', async () => {
    const visitors = Array.from({ length: 40 }, (_, index) => ({
      id: `visitor-${String(index).padStart(2, '0')}`,
      past: (index * 7) % 13,
      variant: index % 2,
    }))
    await write(
      visitors.flatMap(({ id, past, variant }) => [
        // An earlier visit, an order within the visit of the exposure, which is no past, and the order that counts.
        ...(past > 3 ? [ordered(id, 20, past)] : []),
        ordered(id, 29.8, 1000),
        exposed(id, 30, variant),
        ordered(id, 31, 5 + past + variant),
      ]),
    )
    const {
      metrics: [booked],
    } = await results()
    expect(booked!.withPast).toBe(visitors.filter(({ past }) => past > 3).length)
    expect(booked!.arms.map(({ sum }) => sum)).toEqual(
      [0, 1].map((variant) =>
        visitors.filter((each) => each.variant === variant).reduce((sum, each) => sum + 5 + each.past + variant, 0),
      ),
    )
    const { varianceReduction, difference } = booked!.comparisons[0]!
    expect(varianceReduction!.shareRemoved!).toBeGreaterThan(0.2)
    expect(varianceReduction!.difference.standardError!).toBeLessThan(difference.standardError!)
    expect(varianceReduction!.theta).toBeGreaterThan(0.5)
  })

  test('whole visits, time in view, errors and a cap come to the same in any order and any portions', async () => {
    const visits = { type: 'visits' } as const
    const anyPage = { type: 'visit', page: { match: 'begins', value: '/' } } as const
    const metrics = () => [
      primaryMetric('Booked, capped', 'mean', order, { cap: 50 }),
      primaryMetric('Bounce rate', 'ratio', { type: 'bounces' }, { role: 'secondary', denominator: visits }),
      primaryMetric('Pages a visit', 'ratio', anyPage, { role: 'secondary', denominator: visits }),
      primaryMetric('Length', 'mean', { type: 'visitTime' }, { role: 'secondary' }),
      primaryMetric('Came back', 'conversion', { type: 'return', days: 1 }, { role: 'secondary' }),
      primaryMetric('In view', 'mean', { type: 'timeInView' }, { role: 'secondary' }),
      primaryMetric('Errors', 'mean', { type: 'error' }, { role: 'secondary', direction: 'down' }),
      primaryMetric('Engaged', 'conversion', { type: 'engagement' }, { role: 'secondary' }),
    ]
    const inVisit = (sessionId: string) => ({ view: { sessionId } })
    const reading = (visitor: string, hours: number, seen: number) =>
      row(visitor, hours, {
        type: 'reading',
        path: '/',
        ...inVisit('first'),
        properties: { seen, depth: 100, height: 100, bands: Array.from({ length: 20 }, () => 0) },
      })
    const link = { type: 'click', element: 'body>main:nth-child(1)>a#book:nth-child(2)' } as const
    // Each exposure, order, reading and error lies in a page view of its own.
    const events = () => [
      { ...exposed('visitor-a', 1, 0), ...inVisit('first') },
      row('visitor-a', 1.1, inVisit('first')),
      row('visitor-a', 20, inVisit('second')),
      { ...ordered('visitor-a', 1.2, 40), ...inVisit('first') },
      { ...ordered('visitor-a', 1.25, 40), ...inVisit('first') },
      row('visitor-a', 60, inVisit('third')),
      { ...exposed('visitor-b', 30, 1), ...inVisit('first') },
      row('visitor-b', 5, inVisit('zero')),
      row('visitor-b', 30.1, { ...link, path: '/', ...inVisit('first') }),
      { ...exposed('visitor-c', 2, 1), ...inVisit('first') },
      row('visitor-c', 2.1, { ...link, path: '/other', ...inVisit('first') }),
      row('visitor-c', 2.2, { type: 'error', name: 'It broke', path: '/', ...inVisit('first') }),
      reading('visitor-c', 2.25, 1500),
      reading('visitor-c', 2.3, 250),
    ]
    const expected = {
      'Booked, capped': [50, 0],
      'Bounce rate': [2 / 3, 0],
      'Pages a visit': [6 / 3, 7 / 2],
      Length: [900, (360 + 1080) / 2],
      'Came back': [1, 0],
      'In view': [0, 0.875],
      Errors: [0, 0.5],
      Engaged: [0, 0.5],
    }
    const values = async () =>
      Object.fromEntries((await results()).metrics.map(({ metric, arms: own }) => [metric.name, own.map(meanOf)]))
    const meanOf = ({ mean }: { mean: number | null }) => mean

    await startWith(...metrics())
    for (const event of events().reverse()) {
      await write([event])
      await settled()
    }
    expect(await values()).toEqual(expected)
    await startWith(...metrics())
    await write(events())
    expect(await values()).toEqual(expected)
  })

  test('a guardrail beyond its limit stops the experiment; secondary metrics do not decide', async () => {
    await startWith(
      primaryMetric('Booked', 'conversion', order),
      primaryMetric('Amount', 'mean', order, { role: 'secondary' }),
      primaryMetric(
        'Complaints',
        'conversion',
        { type: 'event', name: 'complaint' },
        { role: 'guardrail', direction: 'down', limit: 0.1 },
      ),
    )
    const complained = (visitor: string) => row(visitor, 3, { type: 'custom', name: 'complaint' })
    const visitors = Array.from({ length: 600 }, (_, index) => ({ id: `visitor-${index}`, variant: index % 2 }))
    await write(
      visitors.flatMap(({ id, variant }, index) => [
        exposed(id, 1, variant),
        ...(index % 10 < 2 ? [ordered(id, 2, 10)] : []),
        ...((variant === 1 ? index % 4 === 1 : index % 10 === 0) ? [complained(id)] : []),
      ]),
    )
    const { metrics, verdict } = await results()
    expect(metrics.map(({ metric }) => metric.role)).toEqual(['primary', 'secondary', 'guardrail'])
    expect(verdict).toMatchObject({
      kind: 'harm',
      variant: 'Variant B',
      reasons: [expect.stringMatching(/^Complaints is worse by at least/)],
    })
    expect(metrics[1]!.comparisons[0]!.adjustedPValue).toBe(metrics[1]!.comparisons[0]!.pValue)
  })

  test('an arm whose events never arrive is named, and its results are not trusted', async () => {
    // One a minute: all at once they are a crowd as well, where their day is looked at for crowds.
    const visitors = Array.from({ length: 200 }, (_, index) => ({
      id: `visitor-${index}`,
      hours: 1 + index / 60,
      variant: index % 2,
    }))
    await write(
      visitors.flatMap(({ id, hours, variant }) => [
        exposed(id, hours, variant),
        ...(variant === 0 ? [ordered(id, hours + 1, 3)] : []),
      ]),
    )
    const { soundness, verdict } = await results()
    expect(soundness).toMatchObject([
      { kind: 'missing-events', isBreaking: true, text: expect.stringContaining('“Variant B”') },
      { kind: 'silent-days' },
    ])
    expect(verdict!.kind).toBe('distrust')
  })
})

describe('while events are being written', () => {
  test('no event is passed over', async () => {
    const writers = [...Array(6)].map(async (_, writer) => {
      for (let index = 0; index < 40; index++)
        await write([exposed(`visitor-${writer}-${index}`, 1, index % 2), ordered(`visitor-${writer}-${index}`, 2, 1)])
    })
    const folding = (async () => {
      for (let round = 0; round < 40; round++) await foldAndSummarize(database)
    })()
    await Promise.all([...writers, folding])
    expect(await arms()).toEqual({
      arms: [
        [120, 120],
        [120, 120],
      ],
      crossed: 0,
    })
  })
})
