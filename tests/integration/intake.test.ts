import { randomUUID } from 'node:crypto'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { event, experiment } from '../../server/database/schema'
import { createExperiment } from '../../server/services/experiments/experiments'
import { createTeam } from './people'

const url = inject('url')
const database = connect(inject('databaseUrl'), 2)
let team: Awaited<ReturnType<typeof createTeam>>
let other: Awaited<ReturnType<typeof createTeam>>

beforeAll(async () => {
  team = await createTeam(database)
  other = await createTeam(database)
})
afterAll(() => database.$client.end())

const page = (changes: object = {}) => ({
  id: randomUUID(),
  type: 'page',
  at: Date.now(),
  address: `${team.site.address}/book`,
  ...changes,
})
const batchOf = (events: unknown[], changes: object = {}) => ({
  key: team.site.key,
  visitor: 'visitor-0001',
  session: 'session-1',
  sent: Date.now(),
  events,
  ...changes,
})
const send = (body: unknown, headers: Record<string, string> = {}) =>
  fetch(`${url}/collect`, {
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers: { 'content-type': 'text/plain;charset=UTF-8', origin: team.site.address, ...headers },
  })
const stored = async (id: string) => database.select().from(event).where(eq(event.id, id))

test('an event that is sent many times, alone and at the same time, is there once', async () => {
  const once = page()
  const replies = await Promise.all([...Array(12)].map(() => send(batchOf([once, page()]))))
  expect(replies.map((reply) => reply.status)).toEqual(Array(12).fill(200))
  expect(await stored(once.id)).toHaveLength(1)
})

test('the browser’s page may read the answer, without a preflight', async () => {
  const reply = await send(batchOf([page()]))
  expect(reply.headers.get('access-control-allow-origin')).toBe(team.site.address)
  expect(await reply.json()).toEqual({ accepted: 1, refused: [] })
})

describe('refused as a whole', () => {
  test.each<[string, () => Promise<Response>, number]>([
    ['no JSON', () => send('{'), 400],
    ['no events', () => send(batchOf([])), 400],
    ['a visitor id that is none', () => send(batchOf([page()], { visitor: "'; DROP" })), 400],
    ['an unknown key', () => send(batchOf([page()], { key: 'unknown' })), 404],
    ['a foreign origin', () => send(batchOf([page()]), { origin: 'https://elsewhere.example' }), 403],
    ['another site’s origin', () => send(batchOf([page()]), { origin: other.site.address }), 403],
    ['more than 64 KB', () => send(batchOf([page({ name: 'x'.repeat(70_000) })])), 413],
    ['more than 200 events', () => send(batchOf([...Array(201)].map(() => 0))), 400],
  ])('%s', async (_name, sent, status) => {
    expect((await sent()).status).toBe(status)
  })
})

test('a bad event is refused with a reason and does not cost the others', async () => {
  const good = page()
  const bad = [
    page({ id: 'no-uuid' }),
    page({ type: 'unknown' }),
    page({ address: 'https://elsewhere.example/' }),
    page({ type: 'exposure', experiment: 999_999, variant: 0 }),
    page({ at: Date.now() - 8 * 24 * 3_600_000 }),
    page({ name: 'nul \u0000' }),
    page({ amount: 'much' }),
    'nonsense',
  ]
  const reply = await (await send(batchOf([...bad, good]))).json()
  expect(reply.accepted).toBe(1)
  expect(reply.refused).toHaveLength(bad.length)
  expect(reply.refused.every(({ why }: { why: string }) => why.length > 5)).toBe(true)
  expect(await stored(good.id)).toHaveLength(1)
})

test('times of a clock that is off are corrected, and sent again they still count once', async () => {
  const YEARS = 3 * 365 * 24 * 3_600_000
  for (const skew of [-YEARS, -7_200_000, 7_200_000, YEARS]) {
    const clock = Date.now() + skew
    const early = page({ at: clock - 10_000 })
    await send(batchOf([early], { sent: clock }))
    await send(batchOf([early], { sent: clock + 2000 }))
    const rows = await stored(early.id)
    expect(rows).toHaveLength(1)
    expect(Math.abs(Date.now() - 10_000 - rows[0]!.occurredAt.getTime())).toBeLessThan(5000)
  }
})

test('an exposure of another site’s experiment is refused', async () => {
  const foreign = await createExperiment(database, other.site.id, null, 'Foreign')
  await database
    .update(experiment)
    .set({ startedAt: new Date(), state: 'running' })
    .where(eq(experiment.id, foreign.id))
  const reply = await (await send(batchOf([page({ type: 'exposure', experiment: foreign.id, variant: 0 })]))).json()
  expect(reply).toMatchObject({ accepted: 0, refused: [{ why: expect.stringContaining('experiment') }] })
})

test('the first report of a site is noted', async () => {
  await send(batchOf([page()]))
  const found = await database.execute(sql`SELECT first_report_at FROM site WHERE id = ${team.site.id}`)
  expect(found.rows[0]?.first_report_at).not.toBeNull()
})
