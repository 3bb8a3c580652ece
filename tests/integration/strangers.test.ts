import { spawnSync } from 'node:child_process'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { connect } from '../../server/database/connect'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { LARGEST_BATCH } from '../../shared/intake/collect'
import { visitorId } from '../visitorId'
import { callerOf, createTeam, PASSWORD } from './people'
import { ownStack } from './ownStack'

/** What anybody may send to public addresses, without a key or with one that stands on every page. */
const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
afterAll(() => database.$client.end())

let team: Awaited<ReturnType<typeof createTeam>>
beforeAll(async () => {
  team = await createTeam(database)
  await compileSiteFile(database, team.site.id)
})

let count = 0
const newId = () => timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
const newView = (visitor: string) => ({
  id: newId(),
  visitor: visitorId(visitor),
  session: 'session',
  address: `${team.site.address}/`,
})
const collect = (body: string) =>
  fetch(`${url}/collect`, { method: 'POST', body, headers: { origin: team.site.address } })
const batch = (views: object[], events: object[] = []) =>
  JSON.stringify({ key: team.site.key, sent: Date.now(), views, events })

test.each([
  '/place?key=%00',
  '/recorder.js?kind=survey&key=%00',
  '/recorder.js?kind=drift&key=a%00b',
  '/pictures/%00/x.png',
  '/pictures/KEY/%00',
  '/s/%00.js',
  '/overlay.js?key=x&token=%00',
  '/copies/%00?token=x',
  '/api/sites/1/evidence/pages?from=2026-01-01&to=2026-01-02&page=%00',
])('a NUL in %s is refused, and is no error of the server', async (path) => {
  expect((await fetch(url + path)).status).toBe(400)
})

test('reasons of what is refused are Vetch’s own, however many names are made up', async () => {
  const view = newView('made-up-names')
  const hostile = [...Array(400).keys()].map((index) => ({
    id: newId(),
    view: view.id,
    type: 'click',
    [`Call +1-555-0100 your licence has ended ${index}`]: true,
  }))
  const views = [...Array(40).keys()].map((index) => ({ ...newView(`made-up-${index}`), [`strange ${index}`]: 1 }))
  for (let from = 0; from < hostile.length; from += 200) {
    const reply = await collect(batch([view, ...views.splice(0, 20)], hostile.slice(from, from + 200)))
    expect(reply.status).toBe(200)
    expect(new Set((await reply.json()).refused.map(({ why }: { why: string }) => why))).toEqual(
      new Set(['it has a field that is not known']),
    )
  }
  const reasons = async () =>
    (await database.execute<{ reason: string }>(sql`SELECT reason FROM refusal WHERE site_id = ${team.site.id}`)).rows
  await expect.poll(reasons, { timeout: 60_000 }).toEqual([{ reason: 'it has a field that is not known' }])
})

test('a network that sends rubbish without end is asked to wait before it is read', async () => {
  const own = await createTeam(database)
  await compileSiteFile(database, own.site.id)
  // Every process counts for itself; another source would not be asked to wait.
  const rubbish = 'x'.repeat(LARGEST_BATCH - 10)
  const statuses: number[] = []
  for (let times = 0; times < 40 && !statuses.includes(429); times++)
    statuses.push(...(await Promise.all([...Array(10)].map(async () => (await collect(rubbish)).status))))
  expect(new Set(statuses)).toEqual(new Set([400, 429]))
  // It refills: ordinary pages go on after a moment.
  await expect
    .poll(async () => (await collect(batch([newView('after-rubbish')]))).status, { timeout: 120_000 })
    .toBe(200)
})

test('regular expressions that are hard to tell hold nobody up', async () => {
  const viewer = await callerOf(url, team.emails.viewer)
  // Each takes half a second to analyze.
  const texts = [...Array(30).keys()].map((index) => `^${'(a|b|ab)*c?'.repeat(9)}${index}$`)
  const audience = { join: 'all', of: [{ fact: 'browser', is: 'regex', texts }] }
  let isOver = false
  const asking = viewer('POST', `/api/sites/${team.site.id}/audience-size`, { audience }).finally(() => (isOver = true))
  const pings: number[] = []
  while (!isOver) {
    const began = performance.now()
    await (await fetch(`${url}/api/account`)).text()
    pings.push(performance.now() - began)
  }
  expect((await asking).status).toBe(422)
  // All of them alone took the process fifteen seconds.
  expect(Math.max(...pings)).toBeLessThan(400)
})

test('the application does not start with a secret that anybody can guess', () => {
  const env = { ...process.env, NUXT_SESSION_PASSWORD: '', NUXT_DATABASE_URL: databaseUrl, PORT: '0' }
  const { status, stderr } = spawnSync(process.execPath, ['.output/server/index.mjs'], { env, encoding: 'utf8' })
  expect(status).toBe(1)
  expect(stderr).toContain('NUXT_SESSION_PASSWORD is empty or short')
})

describe('a text', () => {
  const named = async (body: string) => {
    const signedIn = await fetch(`${url}/api/account/sign-in`, {
      method: 'POST',
      body: JSON.stringify({ email: team.emails.owner, password: PASSWORD }),
      headers: { 'content-type': 'application/json' },
    })
    return fetch(`${url}/api/sites/${team.site.id}/experiments`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json', cookie: signedIn.headers.get('set-cookie')!.split(';')[0]! },
    })
  }
  test.each<[string, string, number]>([
    ['with an emoji in escapes', '{"name":"a \\ud83d\\ude00"}', 200],
    ['that speaks of NUL', JSON.stringify({ name: 'about \\u0000' }), 200],
    ['with a NUL', '{"name":"a\\u0000"}', 422],
    ['with half a character', '{"name":"a\\ud83d"}', 422],
    ['under a name with a NUL', '{"name":"a","b\\u0000":1}', 422],
  ])('%s', async (_, body, status) => {
    expect((await named(body)).status).toBe(status)
  })
})
