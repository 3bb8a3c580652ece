import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { currencyRate, pageView, setAside, site } from '../../server/database/schema'
import { openQueue } from '../../server/jobs/queue'
import { addExclusion, removeExclusion } from '../../server/services/experiments/exclusions'
import { addMetricToStarted } from '../../server/services/experiments/addMetric'
import { findSheet } from '../../server/services/experiments/sheet'
import { requestRefold } from '../../server/jobs/backgroundJobs'
import { noteCrowds } from '../../server/services/results/crowds'
import { readLooks } from '../../server/services/results/looks'
import { experimentResults } from '../../server/services/results/results'
import { storedSummaries } from '../../server/services/results/summaries'
import type { SheetMetric } from '../../core/sheet/content'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY, HOUR } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 4)
const queue = await openQueue(databaseUrl, 'sender')
afterAll(async () => {
  await queue.stop({ graceful: false })
  await database.$client.end()
})

const START = Date.now() - 3 * 24 * HOUR
const order: SheetMetric['source'] = { type: 'event', name: 'order' }
type ExclusionInput = Parameters<typeof addExclusion>[3]
let team: Awaited<ReturnType<typeof createTeam>>
let experimentId: number

async function startWith(...metrics: SheetMetric[]): Promise<void> {
  experimentId = await startedExperiment(database, team.site.id, START, ...metrics)
}
beforeEach(async () => {
  team = await createTeam(database)
  await startWith(primaryMetric('Booked', 'mean', order))
})

const row = (visitor: string, hours: number, changes: Partial<Happening>): Happening => ({
  visitor,
  at: START + hours * HOUR,
  ...changes,
})
const exposed = (visitor: string, hours: number, variant: number, more: Partial<Happening> = {}) =>
  row(visitor, hours, { type: 'exposure', experiment: experimentId, variant, ...more })
const ordered = (visitor: string, hours: number, amount?: number, more: Partial<Happening> = {}) =>
  row(visitor, hours, { type: 'custom', name: 'order', amount, ...more })
const write = (happenings: Happening[]) => happen(database, team.site, happenings)
const target = () => ({ siteId: team.site.id, experimentId, personId: null })

async function read() {
  await folded(database, team.site.id)
  return experimentResults(database, await findSheet(database, team.site.id, experimentId), new Date())
}
const arms = async (metric = 0) => (await read()).metrics[metric]!.arms.map(({ visitors, sum }) => [visitors, sum])
const refold = async () => {
  await requestRefold(database, queue, team.site.id, experimentId, 'Again')
  await refolded()
}
/** Waits until the worker has done what it was asked for last. */
async function refolded(): Promise<void> {
  const { rows } = await database.execute<{ id: number }>(
    sql`SELECT id FROM background_job WHERE site_id = ${team.site.id} ORDER BY id DESC LIMIT 1`,
  )
  await expect
    .poll(
      async () =>
        (await database.execute(sql`SELECT state FROM background_job WHERE id = ${rows[0]!.id}`)).rows[0]?.state,
      { timeout: 120_000 },
    )
    .toBe('done')
}

test('an order that is told again, later or earlier, counts once', async () => {
  await write([exposed('visitor-a', 1, 0), ordered('visitor-a', 3, 40, { reference: 'A' })])
  expect(await arms()).toEqual([
    [1, 40],
    [0, 0],
  ])
  await write([ordered('visitor-a', 4, 40, { reference: 'A' }), ordered('visitor-a', 4, 7, { reference: 'B' })])
  expect(await arms()).toEqual([
    [1, 47],
    [0, 0],
  ])
  // The same order, told with another amount by an event that turns out to be older.
  await write([ordered('visitor-a', 2, 30, { reference: 'A' })])
  expect(await arms()).toEqual([
    [1, 37],
    [0, 0],
  ])
})

test('other currencies count by the rate of their day, or are left out and told', async () => {
  await write([
    exposed('visitor-a', 1, 0),
    ordered('visitor-a', 2, 10),
    ordered('visitor-a', 3, 10, { currency: 'GBP' }),
  ])
  const { metrics, soundness } = await read()
  expect(metrics[0]!.arms[0]!.sum).toBe(10)
  expect(soundness).toContainEqual(
    expect.objectContaining({ kind: 'unconverted', text: expect.stringContaining('1 amount in GBP') }),
  )
  await database.insert(currencyRate).values({ siteId: team.site.id, currency: 'GBP', from: '2020-01-01', rate: 1.2 })
  await refold()
  expect(await arms()).toEqual([
    [1, 22],
    [0, 0],
  ])
})

test('a metric that is added late has a past: clicks were kept before anybody asked for them', async () => {
  const click = (visitor: string, hours: number, id: string) =>
    row(visitor, hours, { type: 'click', element: `body>main:nth-child(1)>a#${id}.button:nth-child(2)` })
  await write([
    exposed('visitor-a', 1, 0),
    click('visitor-a', 2, 'book'),
    click('visitor-a', 3, 'book'),
    exposed('visitor-b', 1, 1),
    click('visitor-b', 2, 'help'),
    click('visitor-b', 0.5, 'book'),
  ])
  await read()
  const { version } = await findSheet(database, team.site.id, experimentId)
  await addMetricToStarted(
    database,
    queue,
    target(),
    version,
    primaryMetric('Book clicks', 'mean', { type: 'click', selector: 'a#book' }, { role: 'secondary' }),
  )
  await refolded()
  expect(await arms(1)).toEqual([
    [1, 2],
    [1, 0],
  ])
  await write([click('visitor-b', 9, 'book')])
  expect(await arms(1)).toEqual([
    [1, 2],
    [1, 1],
  ])
})

test('robots and impossible visitors are left out by themselves, with all that they did, and told', async () => {
  await write([exposed('visitor-a', 1, 0), ordered('visitor-a', 2, 5)])
  await write([exposed('visitor-robot', 1, 1, { view: { isRobot: true } }), ordered('visitor-robot', 2, 500)])
  await write([exposed('visitor-fast', 1, 1), ordered('visitor-fast', 1, 900)])
  expect(await arms()).toEqual([
    [1, 5],
    [1, 900],
  ])
  // Whoever turns out to open sixty pages in a few seconds is taken out again.
  await write(Array.from({ length: 60 }, (_, index) => row('visitor-fast', 1 + index / 20_000, {})))
  const { metrics, soundness, visitors } = await read()
  expect([visitors, metrics[0]!.arms.map(({ visitors: count, sum }) => [count, sum])]).toEqual([
    1,
    [
      [1, 5],
      [0, 0],
    ],
  ])
  expect(soundness).toContainEqual(
    expect.objectContaining({
      kind: 'left-out',
      text: expect.stringMatching(/1 say that they are robots, 1 open pages faster/),
    }),
  )
})

const SPAN = { from: new Date(START + 20 * HOUR).toISOString(), until: new Date(START + 40 * HOUR).toISOString() }
test.each<[string, Partial<ExclusionInput>, number[], number[]]>([
  ['a visitor', { kind: 'visitor', visitor: 'visitor-a' }, [0, 0], [2, 18]],
  ['the team', { kind: 'team' }, [1, 5], [1, 11]],
  ['a span of time', { kind: 'span', ...SPAN }, [1, 5], [1, 7]],
])('an owner leaves %s out, and takes it back', async (_, exclusion, control, variant) => {
  await write([
    exposed('visitor-a', 1, 0),
    ordered('visitor-a', 2, 5),
    exposed('visitor-b', 1, 1, { view: { isTeam: true } }),
    ordered('visitor-b', 2, 7),
    exposed('visitor-c', 30, 1),
    ordered('visitor-c', 31, 11),
  ])
  const all = [
    [1, 5],
    [2, 18],
  ]
  expect(await arms()).toEqual(all)
  const made = await addExclusion(database, queue, target(), {
    ...exclusion,
    reason: 'A test of ours.',
  } as ExclusionInput)
  await refolded()
  expect(await arms()).toEqual([control, variant])
  // What comes of somebody who is left out changes nothing, and is there when they count again.
  await removeExclusion(database, queue, target(), made)
  await refolded()
  expect(await arms()).toEqual(all)
})

test('visitors who have more in common than is likely are told with the numbers without them, and left out in one step', async () => {
  await startWith(primaryMetric('Booked', 'conversion', order))
  const both = (count: number, name: string, hours: number, network: string, orders: (index: number) => boolean) =>
    Array.from({ length: count }, (_, index) => [
      exposed(`${name}-${index}`, hours - index / 60, index % 2, { view: { network } }),
      ...(orders(index) ? [ordered(`${name}-${index}`, hours + 1)] : []),
    ]).flat()
  // At noon: all on one day, whatever the time is now.
  const today = (Date.now() - (Date.now() % DAY) - DAY / 2 - START) / HOUR
  // Of others every second visitor of each arm orders; of the crowd all of the control, and nobody else.
  const others = Array.from({ length: 60 }, (_, own) =>
    both(2, `own-${own}`, today - own / 60, `net-${own}`, () => own % 2 === 0),
  )
  // At once: crowds are looked for when the first of them are counted, and then not for a minute.
  await write([...others.flat(), ...both(40, 'crowd', today, 'crowded', (index) => index % 2 === 0)])
  const crowds = async () => (await read()).soundness.filter(({ kind }) => kind === 'crowd')
  await expect.poll(crowds, { timeout: 120_000 }).toHaveLength(1)
  const [told] = await crowds()
  expect(told!.text).toMatch(
    /^On \d{4}-\d\d-\d\d one network brought 40 of 160 visitors\. The lift in Booked: Variant B −40\.0 % with them and 0\.0 % without\.$/,
  )
  expect(told!.crowd).toMatchObject({ kind: 'network', value: 'crowded' })
  const before = await arms()
  const made = await addExclusion(database, queue, target(), {
    kind: 'crowd',
    crowd: told!.crowd,
    reason: 'Made up.',
  } as ExclusionInput)
  await refolded()
  expect(await arms()).toEqual([
    [60, 30],
    [60, 30],
  ])
  expect(await crowds()).toEqual([])
  // Looked for meanwhile, it is the same crowd of the same day.
  await noteCrowds(database, await findSheet(database, team.site.id, experimentId), new Date())
  await removeExclusion(database, queue, target(), made)
  await refolded()
  expect(await arms()).toEqual(before)
  expect(await crowds()).toEqual([told])
  await expect(
    addExclusion(database, queue, target(), {
      kind: 'crowd',
      crowd: { ...told!.crowd!, value: 'nobody' },
      reason: 'x',
    } as ExclusionInput),
  ).rejects.toMatchObject({ status: 404 })
})

test('crowds are told of a minute, a browser and of first pages, where that is not what is usual', async () => {
  await startWith(primaryMetric('Booked', 'conversion', order))
  const now = (Date.now() - START) / HOUR
  const seen = (count: number, name: string, hours: (index: number) => number, more: Partial<Happening>) =>
    Array.from({ length: count }, (_, index) => {
      const visitor = `${name}-${index}`
      const session = { sessionId: visitor, browser: 'Firefox', browserVersion: '140', ...more.view }
      return [
        ...(more.path ? [row(visitor, hours(index) - 0.1, { path: more.path, view: session })] : []),
        exposed(visitor, hours(index), index % 2, { view: session }),
      ]
    }).flat()
  // Two days ago, and today: people who come over hours, most of whom have seen another page before.
  await write([
    ...seen(150, 'usual', (index) => now - 50 - index / 60, { path: '/before' }),
    ...seen(60, 'today', (index) => now - 0.2 - index / 60, { path: '/before' }),
    ...seen(40, 'made', () => now - 0.1, { view: { browserVersion: '99' } }),
  ])
  const crowds = async () => (await read()).soundness.filter(({ kind }) => kind === 'crowd').map(({ text }) => text)
  const told = (await expect.poll(crowds, { timeout: 120_000 }).toHaveLength(3).then(crowds)).join('\n')
  expect(told).toMatch(/ 40 of \d+ visitors came within one minute, at \d\d:\d\d\./)
  expect(told).toMatch(/ 40 of \d+ visitors came with Firefox 99\. Usually it is 0\.0 %\./)
  expect(told).toMatch(
    / 40 of \d+ visitors saw the experiment on the first page they ever opened\. Usually it is 0\.0 %\./,
  )
  // What is usual is no crowd, though it is much of the day.
  expect(told).not.toContain('Firefox 140')

  const all = await arms()
  const minute = (await read()).soundness.find(({ crowd }) => crowd?.kind === 'minute')!.crowd
  await addExclusion(database, queue, target(), { kind: 'crowd', crowd: minute, reason: 'Made up.' } as ExclusionInput)
  await refolded()
  expect((await arms()).map(([visitors]) => visitors)).toEqual(all.map(([visitors]) => visitors! - 20))
})

test('a visitor’s segments are those of the exposure, and sums are kept by each of their values', async () => {
  await write([
    exposed('visitor-a', 1, 0, { view: { device: 'phone', country: 'IE', campaignSource: 'mail', visit: 2 } }),
    ordered('visitor-a', 2, 5, { view: { device: 'desktop' } }),
    exposed('visitor-b', 1, 0, { view: { device: 'desktop', country: 'FR' } }),
    ordered('visitor-b', 2, 7),
  ])
  await read()
  const { rows } = await database.execute(sql`
    SELECT dimension, value, sum::float8 AS sum FROM statistic
    WHERE site_id = ${team.site.id} AND experiment_id = ${experimentId} AND dimension IN ('device', 'country', 'source', 'visitor') ORDER BY 1, 2`)
  expect(rows.map((each) => [each.dimension, each.value, each.sum])).toEqual([
    ['country', 'FR', 7],
    ['country', 'IE', 5],
    ['device', 'desktop', 7],
    ['device', 'phone', 5],
    ['source', 'direct', 7],
    ['source', 'mail', 5],
    ['visitor', 'new', 7],
    ['visitor', 'returning', 5],
  ])
})

describe('what cannot be folded', () => {
  test('is set aside, told on Today and on the sheet, and stops neither this site nor another', async () => {
    const broken = team
    await write([exposed('visitor-a', 1, 0), ordered('visitor-a', 2, 5)])
    await folded(database, broken.site.id)
    // A row that no program of ours would write.
    await write([ordered('visitor-a', 3, 1)])
    await database.execute(
      sql`ALTER TABLE visitor_value ADD CONSTRAINT breaks CHECK (visitor_id <> 'visitor-broken' OR value < 0)`,
    )
    try {
      await write([
        exposed('visitor-broken', 4, 1),
        ordered('visitor-broken', 5, 9),
        exposed('visitor-c', 4, 1),
        ordered('visitor-c', 5, 3),
      ])
      expect((await arms())[1]).toEqual([2, 3])
      expect(
        (await database.select().from(setAside).where(eq(setAside.siteId, broken.site.id))).length,
      ).toBeGreaterThan(0)
      expect((await read()).soundness).toContainEqual(expect.objectContaining({ kind: 'set-aside' }))
      // It stays aside when all that the visitor did is read again.
      const aside = await database.$count(setAside, eq(setAside.siteId, broken.site.id))
      await write([exposed('visitor-broken', 2, 1)])
      expect((await arms())[1]).toEqual([2, 3])
      expect(await database.$count(setAside, eq(setAside.siteId, broken.site.id))).toBe(aside)
      team = await createTeam(database)
      await startWith(primaryMetric('Booked', 'mean', order))
      await write([exposed('visitor-a', 1, 0), ordered('visitor-a', 2, 5)])
      expect(await arms()).toEqual([
        [1, 5],
        [0, 0],
      ])
    } finally {
      await database.execute(sql`ALTER TABLE visitor_value DROP CONSTRAINT breaks`)
    }
  })
})

test('lists and time series are stored: a look a day', async () => {
  await write(
    Array.from({ length: 200 }, (_, index) => [
      exposed(`visitor-${index}`, 1, index % 2),
      ...(index % 4 < 2 ? [ordered(`visitor-${index}`, 2, 10)] : []),
    ]).flat(),
  )
  await read()
  // Whoever has folded stores them right after.
  await expect
    .poll(async () => (await readLooks(database, team.site.id, experimentId))[0]?.visitors)
    .toEqual([100, 100])
  const [look, ...others] = await readLooks(database, team.site.id, experimentId)
  expect(others).toEqual([])
  expect(look).toMatchObject({ variant: 1, visitors: [100, 100], means: [5, 5] })
  const summary = async () => (await storedSummaries(database, team.site.id, [experimentId])).get(experimentId)
  await expect.poll(summary).toMatchObject({ visitors: 200, verdict: { kind: 'early' } })
})

test.each(['Europe/Dublin', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Pacific/Auckland'])(
  'days are those of %s, also where clocks change',
  async (timeZone) => {
    await database.update(site).set({ timeZone }).where(eq(site.id, team.site.id))
    const moments = [
      '2026-03-28T12:00:00Z',
      '2026-03-29T00:59:59Z',
      '2026-03-29T23:30:00Z',
      '2026-10-25T00:30:00Z',
      '2026-10-25T01:30:00Z',
      '2026-11-01T03:59:59Z',
      '2026-11-01T06:30:00Z',
      '2026-04-04T15:30:00Z',
      '2026-10-03T15:45:00Z',
    ]
    await write(moments.map((at, index) => ({ ...exposed(`visitor-${index}`, 0, index % 2), at: Date.parse(at) })))
    await folded(database, team.site.id)
    const ours = await database.execute(
      sql`SELECT value AS day, sum(visitors)::int AS visitors FROM exposure_count WHERE site_id = ${team.site.id} AND dimension = 'day' GROUP BY 1 ORDER BY 1`,
    )
    const theirs = await database.execute(
      sql`SELECT (occurred_at AT TIME ZONE ${timeZone})::date::text AS day, count(*)::int AS visitors FROM page_view WHERE site_id = ${team.site.id} GROUP BY 1 ORDER BY 1`,
    )
    expect(ours.rows).toEqual(theirs.rows)
    expect(await database.$count(pageView, eq(pageView.siteId, team.site.id))).toBe(moments.length)
  },
)
