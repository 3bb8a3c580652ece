import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { assign } from '../../core/assignment/assignment'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { connect } from '../../server/database/connect'
import { ensurePartitions } from '../../server/database/partitions'
import { PLAN } from '../metrics'
import { event, experiment, pageView } from '../../server/database/schema'
import { createExperiment } from '../../server/services/experiments/experiments'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { visitorId } from '../visitorId'
import { DAY } from '../../core/time/units'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let other: Awaited<ReturnType<typeof createTeam>>
const YEARS = 3 * 365 * DAY

beforeAll(async () => {
  team = await createTeam(database)
  other = await createTeam(database)
})
afterAll(() => database.$client.end())

let count = 0
const idAt = (at: number) => timeOrderedId(at, ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
const newView = (changes: object = {}) => ({
  id: idAt(Date.now()),
  visitor: visitorId('visitor-0001'),
  session: 'session-1',
  address: `${team.site.address}/book`,
  ...changes,
})
const newEvent = (view: { id: string }, changes: object = {}) => ({
  id: idAt(Date.now()),
  view: view.id,
  type: 'custom',
  name: 'thing',
  ...changes,
})
const batchOf = (views: unknown[], events: unknown[] = [], changes: object = {}) => ({
  key: team.site.key,
  sent: Date.now(),
  views,
  events,
  ...changes,
})
const send = (body: unknown, headers: Record<string, string> = {}) =>
  fetch(`${url}/collect`, {
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers: { 'content-type': 'text/plain;charset=UTF-8', origin: team.site.address, ...headers },
  })
const stored = (id: string) => database.select().from(event).where(eq(event.id, id))
const storedView = (id: string) => database.select().from(pageView).where(eq(pageView.id, id))

test('what is sent many times, alone and at the same time, is there once', async () => {
  const view = newView()
  const once = newEvent(view)
  const replies = await Promise.all([...Array(12)].map(() => send(batchOf([view], [once, newEvent(view)]))))
  expect(replies.map((reply) => reply.status)).toEqual(Array(12).fill(200))
  expect(await Promise.all(replies.map((reply) => reply.json()))).toEqual(Array(12).fill({ accepted: 3, refused: [] }))
  expect([await stored(once.id), await storedView(view.id)].map((rows) => rows.length)).toEqual([1, 1])
})

test('the browser’s page may read the answer, without a preflight', async () => {
  const reply = await send(batchOf([newView()]))
  expect(reply.headers.get('access-control-allow-origin')).toBe(team.site.address)
  expect(await reply.json()).toEqual({ accepted: 1, refused: [] })
})

const answer = (text: string) => ({ survey: 1, question: 'missing', choices: [], value: null, text })

test('an answer of 1 MB is refused, and an ordinary one is kept as it was written', async () => {
  const view = newView()
  const told = (text: string) => newEvent(view, { type: 'answer', properties: answer(text) })
  const huge = await send(batchOf([view], [told('x'.repeat(1024 * 1024))]))
  expect(huge.status).toBe(413)
  const text = 'Are dogs allowed? <b>\u2028'
  const one = told(text)
  expect(await (await send(batchOf([view], [one]))).json()).toEqual({ accepted: 2, refused: [] })
  const [row] = await stored(one.id)
  expect(row).toMatchObject({ type: 'answer', properties: answer(text) })
})

describe('refused as a whole', () => {
  test.each<[string, () => Promise<Response>, number]>([
    ['no JSON', () => send('{'), 400],
    ['no views', () => send(batchOf([])), 400],
    ['an unknown key', () => send(batchOf([newView()], [], { key: 'unknown' })), 404],
    ['NUL in the key', () => send(batchOf([newView()], [], { key: 'a\u0000' })), 400],
    ['a foreign origin', () => send(batchOf([newView()]), { origin: 'https://elsewhere.example' }), 403],
    ['another site’s origin', () => send(batchOf([newView()]), { origin: other.site.address }), 403],
    ['more than 64 KB', () => send(batchOf([newView()], ['x'.repeat(70_000)])), 413],
    [
      'too many events',
      () =>
        send(
          batchOf(
            [newView()],
            [...Array(501)].map(() => 0),
          ),
        ),
      400,
    ],
  ])('%s', async (_name, sent, status) => {
    const reply = await sent()
    expect(reply.status).toBe(status)
    // With its reason, and not as a page of the interface, which would be drawn at each piece of rubbish.
    expect(await reply.json()).toEqual({ message: expect.stringMatching(/\.$/) })
  })
})

test('a bad event is refused with a reason and does not cost the others', async () => {
  const view = newView()
  const good = newEvent(view)
  const bad = [
    newEvent(view, { id: crypto.randomUUID() }),
    newEvent(view, { type: 'unknown' }),
    newEvent({ id: idAt(Date.now()) }),
    newEvent(view, { type: 'exposure', experiment: 999_999, variant: 0 }),
    newEvent(view, { id: idAt(Date.now() - 8 * DAY) }),
    newEvent(view, { name: 'nul \u0000' }),
    newEvent(view, { type: 'answer', properties: answer('x'.repeat(2001)) }),
    newEvent(view, { type: 'answer', properties: { ...answer('Dogs'), picture: 'x' } }),
    newEvent(view, { amount: 'much' }),
    newEvent(view, { amount: 1e12 }),
    'nonsense',
  ]
  const reply = await (
    await send(
      batchOf(
        [view, newView({ visitor: "'; DROP" }), newView({ address: 'https://elsewhere.example/' })],
        [...bad, good],
      ),
    )
  ).json()
  expect(reply.accepted).toBe(2)
  expect(reply.refused).toHaveLength(bad.length + 2)
  expect(reply.refused.every(({ why }: { why: string }) => why.length > 5)).toBe(true)
  expect(await stored(good.id)).toHaveLength(1)
  // Refusals are counted, so that they can be told beside the numbers.
  await expect
    .poll(
      async () =>
        Number(
          (await database.execute(sql`SELECT sum(events) AS n FROM refusal WHERE site_id = ${team.site.id}`)).rows[0]
            ?.n ?? 0,
        ),
      { timeout: 60_000 },
    )
    .toBeGreaterThanOrEqual(bad.length)
})

test('an id that comes with other content is refused, with its reason', async () => {
  const view = newView()
  const first = newEvent(view, { amount: 10 })
  await send(batchOf([view], [first]))
  const changed = await (await send(batchOf([view], [{ ...first, amount: 1000 }, first, newEvent(view)]))).json()
  expect(changed).toEqual({ accepted: 3, refused: [{ id: first.id, why: expect.stringContaining('something else') }] })
  const moved = await (await send(batchOf([{ ...view, session: 'session-2' }], [newEvent(view)]))).json()
  expect(moved).toMatchObject({ accepted: 0, refused: [{ id: view.id }, {}] })
  const twice = newEvent(view)
  expect(await (await send(batchOf([view], [twice, { ...twice, name: 'other' }]))).json()).toMatchObject({
    accepted: 2,
    refused: [{ id: twice.id }],
  })
  expect((await stored(first.id))[0]).toMatchObject({ amount: '10' })
})

describe('a clock that is off', () => {
  test.each([-YEARS, -7_200_000, 7_200_000, YEARS])(
    'by %d ms is corrected, and what it sends again counts once, also after it was set',
    async (skew) => {
      const clock = Date.now() + skew
      const visitor = visitorId(`v-clock-${skew}`)
      const view = newView({ id: idAt(clock - 10_000), visitor })
      const early = newEvent(view, { id: idAt(clock - 9000) })
      await send(batchOf([view], [early], { sent: clock }))
      await send(batchOf([view], [early], { sent: Math.max(clock, Date.now()) + 2000 }))
      const rows = await stored(early.id)
      expect(rows).toHaveLength(1)
      expect(Math.abs(Date.now() - 9000 - rows[0]!.occurredAt.getTime())).toBeLessThan(5000)
    },
  )

  test('keeps one offset for a view, so that a slow request changes no order', async () => {
    const clock = Date.now() - 58_000
    const view = newView({ id: idAt(clock - 9000), visitor: visitorId('visitor-slow') })
    const [exposed, clicked] = [newEvent(view, { id: idAt(clock - 8000) }), newEvent(view, { id: idAt(clock - 4000) })]
    // The first request was under way for seven seconds, the second was not.
    await send(batchOf([view], [exposed], { sent: clock - 7000 }))
    await send(batchOf([view], [clicked], { sent: clock }))
    const [[first], [second]] = [await stored(exposed.id), await stored(clicked.id)]
    expect(second!.occurredAt.getTime() - first!.occurredAt.getTime()).toBe(4000)
  })

  test('that stood still while the tab slept is corrected for what happens after', async () => {
    const view = newView({ id: idAt(Date.now() - 10_000), visitor: visitorId('visitor-slept') })
    const before = newEvent(view, { id: idAt(Date.now() - 9000) })
    await send(batchOf([view], [before], { sent: Date.now() }))
    // Three hours later by the clock on the wall, a few seconds later by that of the page.
    const asleep = 3 * 3_600_000
    await database.execute(sql`
      UPDATE page_view SET clock_offset = clock_offset - ${asleep}, occurred_at = occurred_at - interval '3 hours'
      WHERE id = ${view.id}`)
    const after = newEvent(view, { id: idAt(Date.now() - 1000) })
    await send(batchOf([view], [after], { sent: Date.now() }))
    const [row] = await stored(after.id)
    expect(Math.abs(Date.now() - 1000 - row!.occurredAt.getTime())).toBeLessThan(5000)
  })

  test('that is ahead of the partitions moves into one once there is one', async () => {
    const ahead = Date.now() + 300 * DAY
    const view = newView({ id: idAt(ahead), visitor: visitorId('visitor-ahead') })
    await send(batchOf([view], [], { sent: ahead }))
    const where = async () =>
      (
        await database.execute(sql`SELECT tableoid::regclass::text AS name FROM page_view WHERE id = ${view.id}`)
      ).rows.map(({ name }) => name)
    expect(await where()).toEqual(['page_view_astray'])
    await ensurePartitions(database, new Date(ahead))
    expect(await where()).toEqual([`page_view_${new Date(ahead).toISOString().slice(0, 7).replace('-', '_')}`])
  })
})

test('an exposure is taken as soon as the experiment runs, and only of the variant that the visitor is assigned', async () => {
  const foreign = await createExperiment(database, other.site.id, null, 'Foreign')
  const own = await createExperiment(database, team.site.id, null, 'Own')
  // A site that intake has just asked for, and then a start.
  await send(batchOf([newView()]))
  for (const { id } of [foreign, own])
    await database
      .update(experiment)
      .set({ startedAt: new Date(), state: 'running', plan: PLAN })
      .where(eq(experiment.id, id))
  for (const { site } of [team, other]) await compileSiteFile(database, site.id)
  const [{ salt }] = (await database
    .select({ salt: experiment.salt })
    .from(experiment)
    .where(eq(experiment.id, own.id))) as [{ salt: string }]
  const variant = assign(visitorId('visitor-0001'), { salt, share: 10_000, weights: [1, 1] })!
  const view = newView()
  const exposure = (of: number, shown: number) =>
    newEvent(view, { type: 'exposure', name: undefined, experiment: of, variant: shown })
  const reply = await (
    await send(batchOf([view], [exposure(own.id, variant), exposure(own.id, 1 - variant), exposure(foreign.id, 0)]))
  ).json()
  expect(reply).toMatchObject({
    accepted: 2,
    refused: [{ why: expect.stringContaining('assigned') }, { why: expect.stringContaining('has started') }],
  })
})

test('addresses are kept without fragments and queries, wherever they come from', async () => {
  const view = newView({
    address: `${team.site.address}/done?token=s3cret&utm_source=mail#access_token=abc`,
    referrer: 'https://search.example/?q=private',
  })
  const event = newEvent(view)
  await send(batchOf([view], [event]))
  expect((await storedView(view.id))[0]).toMatchObject({
    address: `${team.site.address}/done?utm_source=mail`,
    campaignSource: 'mail',
    referrerHost: 'search.example',
  })
  expect((await stored(event.id))[0]!.address).toBe(`${team.site.address}/done?utm_source=mail`)
})

test('a path of the site’s own that hands on to Vetch gets a cookie that browsers keep', async () => {
  const reply = await send(batchOf([newView({ visitor: visitorId('visitor-cookie') })]), {
    'sec-fetch-site': 'same-origin',
  })
  expect(reply.headers.get('set-cookie')).toMatch(
    /^vetch_visitor=visitor-cookie--------; Path=\/; Max-Age=31536000; SameSite=Lax/,
  )
  expect((await send(batchOf([newView()]), { 'sec-fetch-site': 'cross-site' })).headers.get('set-cookie')).toBeNull()
})

test('the first report of a site is noted', async () => {
  await send(batchOf([newView()]))
  const found = await database.execute(sql`SELECT first_report_at FROM site WHERE id = ${team.site.id}`)
  expect(found.rows[0]?.first_report_at).not.toBeNull()
})
