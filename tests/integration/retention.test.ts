import { eq, sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, beforeEach, describe, expect, test } from 'vitest'
import type { SheetMetric } from '../../core/sheet/content'
import { connect } from '../../server/database/connect'
import { backgroundJob, currencyRate, event, experiment, look, pageView, site } from '../../server/database/schema'
import { cancelJob, resumeRefolds } from '../../server/jobs/backgroundJobs'
import { forgetRawEvents } from '../../server/jobs/housekeeping'
import type { RefoldJob } from '../../server/jobs/queue'
import { refoldExperiment } from '../../server/jobs/refold'
import { addMetricToStarted } from '../../server/services/experiments/addMetric'
import { addExclusion, removeExclusion } from '../../server/services/experiments/exclusions'
import { findSheet } from '../../server/services/experiments/sheet'
import { foldAndSummarize, refreshDueSummaries } from '../../server/services/results/foldAndSummarize'
import { experimentResults } from '../../server/services/results/results'
import { readSegments } from '../../server/services/results/segments'
import { updateSite } from '../../server/services/sites/sites'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
afterAll(() => database.$client.end())

/** Work is done here, in its turn, and not by the worker beside. */
const jobs: RefoldJob[] = []
const queue = {
  send: async (_: string, job: object) => {
    jobs.push(job as RefoldJob)
    return null
  },
} as unknown as Parameters<typeof addExclusion>[1]
async function work(): Promise<void> {
  for (const job of jobs.splice(0)) await refoldExperiment(database, job)
}

const NOW = Math.floor(Date.now() / DAY) * DAY
const order = { type: 'event', name: 'order' } as const
const METRICS: SheetMetric[] = [
  primaryMetric('Booked', 'mean', order),
  primaryMetric('Bookers', 'conversion', order, { role: 'secondary' }),
  primaryMetric('Back', 'mean', { type: 'visits' }, { role: 'secondary' }),
  primaryMetric('Booked within three days', 'mean', order, { role: 'secondary', windowDays: 3 }),
]

/** A site with an experiment that has ended before its events are deleted, and one that runs since then. */
interface World {
  site: { id: number; address: string; name: string }
  ended: number
  running: number
}

async function makeWorld(): Promise<World> {
  const { site: made } = await createTeam(database)
  const metrics = () => METRICS.map((metric) => ({ ...metric, id: crypto.randomUUID().slice(0, 8) }))
  const ended = await startedExperiment(database, made.id, NOW - 150 * DAY, ...metrics())
  const running = await startedExperiment(database, made.id, NOW - 120 * DAY, ...metrics())
  await database
    .update(experiment)
    .set({ state: 'ended', endedAt: new Date(NOW - 110 * DAY) })
    .where(eq(experiment.id, ended))
  const rates = [
    { currency: 'GBP', from: '2020-01-01', rate: 1.17 },
    { currency: 'JPY', from: '2020-01-01', rate: 0.0061 },
  ].map((rate) => ({ ...rate, siteId: made.id }))
  await database.insert(currencyRate).values(rates)
  return { site: made, ended, running }
}

/** What a visitor of the histories does. */
interface Visitor {
  variant: 0 | 1
  exposedDaysAgo: number
  isTeam: boolean
  device: string
  orders: { daysLater: number; amount: number; currency: string }[]
}

function happenings(visitors: readonly Visitor[], { ended, running }: World): Happening[] {
  return visitors.flatMap(({ variant, exposedDaysAgo, isTeam, device, orders }, index): Happening[] => {
    const visitor = `visitor-${index}`
    const at = NOW - exposedDaysAgo * DAY
    const exposed = (id: number): Happening => ({
      visitor,
      at,
      type: 'exposure',
      experiment: id,
      variant,
      view: { isTeam, device },
    })
    return [
      ...(exposedDaysAgo > 110 ? [exposed(ended)] : []),
      ...(exposedDaysAgo < 120 ? [exposed(running)] : []),
      ...orders.map(({ daysLater, amount, currency }, place): Happening => ({
        visitor,
        at: Math.min(at + daysLater * DAY, NOW - DAY),
        type: 'custom',
        name: 'order',
        amount,
        currency,
        reference: `${index}-${place}`,
        view: { sessionId: `s${place}` },
      })),
    ]
  })
}

/** Everything that can be read of the two experiments: sums to the last digit, segments, results. */
async function readings({ site: { id: siteId }, ended, running }: World) {
  await folded(database, siteId)
  const read = async (experimentId: number) => {
    const sheet = await findSheet(database, siteId, experimentId)
    const { metrics, visitors, soundness } = await experimentResults(database, sheet, new Date(NOW))
    const position = new Map(sheet.metrics.map(({ versionId }, place) => [versionId, place]))
    const { rows } = await database.execute<{ metric: number } & Record<string, unknown>>(sql`
      SELECT metric_version_id AS metric, variant, dimension, value, has_past, visitors, active, trim_scale(sum) AS sum,
        trim_scale(squares) AS squares, trim_scale(past_sum) AS past, trim_scale(past_products) AS products
      FROM statistic WHERE site_id = ${siteId} AND experiment_id = ${experimentId} AND visitors <> 0
      ORDER BY variant, dimension, value, has_past`)
    const counts = await database.execute(sql`
      SELECT variant, dimension, value, visitors, crossed FROM exposure_count
      WHERE site_id = ${siteId} AND experiment_id = ${experimentId} AND visitors <> 0 ORDER BY 2, 3, 1`)
    return {
      visitors,
      soundness: soundness.map(({ kind }) => kind),
      arms: metrics.map(({ arms }) => arms),
      intervals: metrics.map(({ comparisons }) => comparisons.map(({ lift, sequential }) => [lift, sequential.pValue])),
      segments: (await readSegments(database, sheet, new Date())).map(({ dimension, metrics: own }) => [
        dimension,
        own.map(({ comparisons }) => comparisons),
      ]),
      sums: rows
        .map(({ metric, ...row }) => ({ ...row, place: position.get(metric) }))
        .sort((a, b) => a.place! - b.place!),
      counts: counts.rows,
    }
  }
  return { ended: await read(ended), running: await read(running) }
}

const target = ({ site: { id } }: World, experimentId: number) => ({ siteId: id, experimentId, personId: null })
async function set(world: World, patch: Parameters<typeof updateSite>[4]): Promise<void> {
  await updateSite(database, queue, world.site.id, null, patch)
  await work()
}

/** What may happen to a site whose events are gone. Each is done to a site where they are all there, too. */
type Change = (world: World) => Promise<void>
const rates = (pound: number) => [
  { currency: 'EUR', from: '2020-01-01', rate: 0.9 },
  { currency: 'GBP', from: '2020-01-01', rate: pound },
  { currency: 'JPY', from: '2020-01-01', rate: 0.0061 },
]
const aChange: fc.Arbitrary<Change> = fc.oneof(
  fc.constantFrom('A new name', 'Another one').map((name) => (world: World) => set(world, { name })),
  fc
    .constantFrom('UTC', 'Asia/Tokyo', 'America/New_York')
    .map((timeZone) => (world: World) => set(world, { timeZone })),
  fc.constantFrom('EUR', 'GBP', 'JPY').map((currency) => (world: World) => set(world, { currency })),
  fc.constantFrom(1.17, 1.3).map((pound) => (world: World) => set(world, { rates: rates(pound) })),
  fc
    .constantFrom<{ kind: 'visitor' | 'team' | 'span' }>({ kind: 'visitor' }, { kind: 'team' }, { kind: 'span' })
    .map(({ kind }) => async (world: World) => {
      for (const id of [world.ended, world.running]) {
        const known = await database.execute<{ id: number }>(
          sql`SELECT id FROM exclusion WHERE site_id = ${world.site.id} AND experiment_id = ${id} AND kind = ${kind}`,
        )
        if (known.rows[0]) await removeExclusion(database, queue, target(world, id), known.rows[0].id)
        else
          await addExclusion(database, queue, target(world, id), {
            kind,
            visitor: 'visitor-0',
            from: new Date(NOW - 130 * DAY).toISOString(),
            until: new Date(NOW - 90 * DAY).toISOString(),
            reason: 'A test of ours.',
          })
        await work()
      }
    }),
)

const aVisitor: fc.Arbitrary<Visitor> = fc.record({
  variant: fc.constantFrom(0 as const, 1 as const),
  exposedDaysAgo: fc.integer({ min: 20, max: 148 }),
  isTeam: fc.boolean(),
  device: fc.constantFrom('phone', 'desktop'),
  orders: fc.array(
    fc.record({
      daysLater: fc.integer({ min: -25, max: 60 }),
      amount: fc.integer({ min: -500, max: 50_000 }).map((cents) => cents / 100),
      currency: fc.constantFrom('EUR', 'GBP', 'JPY', 'SEK'),
    }),
    { maxLength: 4 },
  ),
})

describe('numbers outlive the events that they were computed from', () => {
  test('whatever is set, left out or taken back afterward, they are those of a site where every event is still there', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(aVisitor, { minLength: 4, maxLength: 12 }),
        fc.array(aChange, { minLength: 2, maxLength: 5 }),
        async (visitors, changes) => {
          const [kept, forgot] = [await makeWorld(), await makeWorld()]
          for (const world of [kept, forgot]) {
            await happen(database, world.site, happenings(visitors, world))
            await folded(database, world.site.id)
          }
          await database.update(site).set({ retentionDays: 60 }).where(eq(site.id, forgot.site.id))
          await forgetRawEvents(database, new Date(NOW))
          expect(await readings(forgot)).toEqual(await readings(kept))
          for (const change of changes) {
            for (const world of [kept, forgot]) await change(world)
            expect(await readings(forgot)).toEqual(await readings(kept))
          }
        },
      ),
      { numRuns: 8 },
    )
  }, 240_000)
})

describe('once the events are gone', () => {
  let world: World
  beforeEach(async () => {
    world = await makeWorld()
    await happen(
      database,
      world.site,
      happenings(
        [
          {
            variant: 0,
            exposedDaysAgo: 115,
            isTeam: false,
            device: 'phone',
            orders: [{ daysLater: 1, amount: 20, currency: 'EUR' }],
          },
          {
            variant: 1,
            exposedDaysAgo: 115,
            isTeam: false,
            device: 'phone',
            orders: [{ daysLater: 2, amount: 30, currency: 'GBP' }],
          },
        ],
        world,
      ),
    )
    await folded(database, world.site.id)
    await database.update(site).set({ retentionDays: 60 }).where(eq(site.id, world.site.id))
    await forgetRawEvents(database, new Date(NOW))
    expect(await database.$count(event, eq(event.siteId, world.site.id))).toBe(0)
  })
  const booked = async (id = world.running) =>
    (await readings(world))[id === world.running ? 'running' : 'ended'].arms[0]!

  test('a new name, and rates that are the same as before, ask for nothing', async () => {
    const before = await readings(world)
    await updateSite(database, queue, world.site.id, null, {
      name: 'Another name',
      currency: 'EUR',
      timeZone: 'UTC',
      rates: [
        { currency: 'JPY', from: '2020-01-01', rate: 0.0061 },
        { currency: 'GBP', from: '2020-01-01', rate: 1.17 },
      ],
    })
    expect(jobs).toEqual([])
    expect(await readings(world)).toEqual(before)
  })

  test('a metric is refused that could not be measured, and the others stay', async () => {
    const before = await readings(world)
    const { version } = await findSheet(database, world.site.id, world.running)
    const add = addMetricToStarted(
      database,
      queue,
      target(world, world.running),
      version,
      primaryMetric('Pages', 'mean', { type: 'visit', page: { match: 'contains', value: '/' } }, { role: 'secondary' }),
    )
    await expect(add).rejects.toThrow(/have been deleted, and this experiment started earlier/)
    expect(await readings(world)).toEqual(before)
  })

  test('an order that turns out to be older is exchanged, and nothing else of the visitor goes', async () => {
    const again = (daysAgo: number, amount: number): Happening => ({
      visitor: 'visitor-0',
      at: NOW - daysAgo * DAY,
      type: 'custom',
      name: 'order',
      amount,
      reference: 'late',
    })
    await happen(database, world.site, [again(2, 40)])
    expect((await booked())[0]!.sum).toBe(60)
    await happen(database, world.site, [again(3, 25)])
    expect((await booked())[0]!.sum).toBe(45)
    await set(world, { rates: [...rates(1.17), { currency: 'EUR', from: '2020-01-01', rate: 2 }] })
    expect((await booked())[0]!.sum).toBe(45)
  })

  test('an order of the same amount that turns out to be older counts by the rate of its own day', async () => {
    const again = (daysAgo: number): Happening => ({
      visitor: 'visitor-0',
      at: NOW - daysAgo * DAY,
      type: 'custom',
      name: 'order',
      amount: 10,
      currency: 'GBP',
      reference: 'late',
    })
    await happen(database, world.site, [again(2)])
    const before = (await booked())[0]!.sum
    await happen(database, world.site, [again(4)])
    expect((await booked())[0]!.sum).toBe(before)
    const day = new Date(NOW - 3 * DAY).toISOString().slice(0, 10)
    await set(world, { rates: [...rates(1.17), { currency: 'GBP', from: day, rate: 3 }] })
    expect((await booked())[0]!.sum).toBe(before)
  })

  test('a visitor who is seen in another variant, or turns out to be of the team, keeps what they did', async () => {
    await happen(database, world.site, [
      { visitor: 'visitor-0', at: NOW - DAY, type: 'exposure', experiment: world.running, variant: 1 },
    ])
    expect((await booked()).map(({ visitors, sum }) => [visitors, sum])).toEqual([
      [1, 20],
      [1, 35.1],
    ])
    await addExclusion(database, queue, target(world, world.running), {
      kind: 'team',
      visitor: undefined,
      from: undefined,
      until: undefined,
      reason: 'Ours.',
    } as unknown as Parameters<typeof addExclusion>[3])
    await work()
    await happen(database, world.site, [{ visitor: 'visitor-0', at: NOW - DAY / 2, view: { isTeam: true } }])
    expect((await booked()).map(({ visitors }) => visitors)).toEqual([0, 1])
    const { rows } = await database.execute<{ id: number }>(
      sql`SELECT id FROM exclusion WHERE site_id = ${world.site.id}`,
    )
    await removeExclusion(database, queue, target(world, world.running), rows[0]!.id)
    await work()
    expect((await booked())[0]!.sum).toBe(20)
  })

  test('amounts from before they were kept stay in their currency, and it says why', async () => {
    await database.execute(sql`UPDATE visitor_value SET amounts = NULL WHERE site_id = ${world.site.id}`)
    const before = await readings(world)
    await expect(updateSite(database, queue, world.site.id, null, { currency: 'GBP' })).rejects.toThrow(
      /The currency stays EUR/,
    )
    await set(world, { rates: rates(1.3) })
    expect(await readings(world)).toEqual(before)
  })
})

describe('what is kept of views', () => {
  test('is dated by the server: no clock of a browser keeps a view for ever, or loses one at once', async () => {
    const { site: own } = await makeWorld()
    const at = (id: number, receivedAt: number): Happening => ({
      visitor: 'visitor-clock',
      at: id,
      view: { offset: receivedAt - id, receivedAt: new Date(receivedAt) },
    })
    await happen(database, own, [
      at(Date.UTC(6000, 0, 1), NOW - 70 * DAY),
      at(Date.UTC(1970, 0, 2), NOW - 5 * DAY),
      at(NOW - 4 * DAY, NOW - 4 * DAY),
    ])
    await database.update(site).set({ retentionDays: 60 }).where(eq(site.id, own.id))
    await forgetRawEvents(database, new Date(NOW))
    const { rows } = await database.execute<{ day: string }>(
      sql`SELECT occurred_at::date::text AS day FROM page_view WHERE site_id = ${own.id} ORDER BY 1`,
    )
    expect(rows.map(({ day }) => day)).toEqual(
      [5, 4].map((days) => new Date(NOW - days * DAY).toISOString().slice(0, 10)),
    )
  })

  test('happened before it was received, whatever the clock says of an event in a view that began with another clock', async () => {
    const { site: own } = await makeWorld()
    const received = NOW - 5 * DAY
    await happen(database, own, [
      {
        visitor: 'visitor-leap',
        at: Date.UTC(6000, 0, 1),
        view: { offset: received - Date.UTC(6000, 0, 1), receivedAt: new Date(received) },
        events: [{ at: received - 1000, type: 'custom', name: 'order' }],
      },
    ])
    const { rows } = await database.execute<{ age: number }>(
      sql`SELECT extract(epoch FROM received_at - occurred_at)::float8 AS age FROM event WHERE site_id = ${own.id}`,
    )
    expect(rows[0]!.age).toBeGreaterThanOrEqual(-60)
    expect(rows[0]!.age).toBeLessThanOrEqual(7 * 86_400)
    expect(await database.$count(pageView, eq(pageView.siteId, own.id))).toBe(1)
  })
})

describe('numbers that are being computed again', () => {
  let world: World
  beforeEach(async () => {
    world = await makeWorld()
    const visitors = Array.from({ length: 30 }, (_, index): Visitor => ({
      variant: (index % 2) as 0 | 1,
      exposedDaysAgo: 30,
      isTeam: false,
      device: 'phone',
      orders: [{ daysLater: 1, amount: 20, currency: 'EUR' }],
    }))
    await happen(database, world.site, happenings(visitors, world))
    await folded(database, world.site.id)
    await refreshDueSummaries(database, new Date(NOW))
  })

  test('say so, store no look and no summary, cannot be canceled, and are whole in the end', async () => {
    await database.delete(look).where(eq(look.siteId, world.site.id))
    await updateSite(database, queue, world.site.id, null, {
      currency: 'JPY',
      rates: [{ currency: 'EUR', from: '2020-01-01', rate: 160 }],
    })
    const results = async () =>
      experimentResults(database, await findSheet(database, world.site.id, world.running), new Date(NOW))
    expect((await results()).verdict).toMatchObject({
      kind: 'distrust',
      reasons: [expect.stringMatching(/^These numbers are being computed again: 0.0 % done/)],
    })
    await foldAndSummarize(database, new Date(NOW))
    expect(await database.$count(look, eq(look.siteId, world.site.id))).toBe(0)
    const open = await database.select().from(backgroundJob).where(eq(backgroundJob.siteId, world.site.id))
    for (const { id } of open)
      await expect(cancelJob(database, world.site.id, id)).rejects.toThrow(/always computed to the end/)

    // What was canceled by the version before, or has failed for good, is taken up again.
    jobs.splice(0)
    await database.update(backgroundJob).set({ state: 'canceled' }).where(eq(backgroundJob.siteId, world.site.id))
    expect((await results()).verdict!.kind).toBe('distrust')
    await resumeRefolds(database, queue)
    await work()
    const { verdict, metrics } = await results()
    expect(verdict!.kind).not.toBe('distrust')
    expect(metrics[0]!.arms.map(({ sum }) => sum)).toEqual([15 * 3200, 15 * 3200])
    expect(await database.$count(look, eq(look.siteId, world.site.id))).toBeGreaterThan(0)
  })
})
