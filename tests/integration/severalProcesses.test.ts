import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { startProcesses, startTemporaryCluster, type Processes } from '../../cli/stack/temporaryStack'
import { assign } from '../../core/assignment/assignment'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'
import { experiment } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { visitorId } from '../visitorId'
import { callerOf, createTeam } from './people'

/** Two web processes and two workers on one database, as an operator runs them. */
let all: Processes[]
let database: Database
let remove: () => void

beforeAll(async () => {
  // Each visitor comes from where they say.
  process.env.NUXT_TRUSTED_PROXIES = '127.0.0.1'
  const temporary = await startTemporaryCluster()
  remove = temporary.remove
  database = connect(temporary.cluster.url, 4)
  await migrate(database)
  all = []
  for (let index = 0; index < 2; index++) all.push(await startProcesses(temporary.cluster.url, temporary.folder))
})
afterAll(async () => {
  all.forEach(({ stop }) => stop())
  await database.$client.end()
  remove()
})

let count = 0
const newId = () => timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
const VISITORS = 120
const USER_AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0'

const sendFrom = ({ url }: Processes, origin: string, body: string, address: string) =>
  fetch(`${url}/collect`, {
    method: 'POST',
    body,
    headers: { origin, 'user-agent': USER_AGENT, 'x-forwarded-for': address },
  })

test('one network brings as many visitors whom nobody knows to two web processes as to one', async () => {
  const team = await createTeam(database)
  await compileSiteFile(database, team.site.id)
  const visit = async (index: number, address: string) => {
    const view = { id: newId(), visitor: visitorId(`made-up-${index}`), session: 'session', address: team.site.address }
    const body = JSON.stringify({ key: team.site.key, sent: Date.now(), views: [view], events: [] })
    return (await sendFrom(all[index % 2]!, team.site.address, body, address)).status
  }
  const many = [...Array(150).keys()]
  const statuses = await Promise.all(many.map((index) => visit(index, '192.0.2.7')))
  const taken = statuses.filter((status) => status === 200).length
  expect(taken).toBeGreaterThanOrEqual(30)
  // A few more with the seconds that it takes.
  expect(taken).toBeLessThan(45)
  expect(new Set(statuses)).toEqual(new Set([200, 429]))
  // Whoever is known goes on, by either process; and so does everybody else.
  const known = statuses.indexOf(200)
  expect([await visit(known, '192.0.2.7'), await visit(known + 1000, '192.0.2.8')]).toEqual([200, 200])
})

test('what reaches either of two web processes, or both, is counted once by two workers', async () => {
  const team = await createTeam(database)
  const order = primaryMetric('Booked', 'mean', { type: 'event', name: 'order' })
  const id = await startedExperiment(database, team.site.id, Date.now() - 3_600_000, order)
  await compileSiteFile(database, team.site.id)
  const [row] = await database.select().from(experiment)
  const bodies = Array.from({ length: VISITORS }, (_, index) => {
    const visitor = visitorId(`visitor-${index}`)
    const variant = assign(visitor, { salt: row!.salt, share: row!.share, weights: [1, 1] })!
    const view = { id: newId(), visitor, session: 'session', address: `${team.site.address}/` }
    const told = (event: object) => ({ id: newId(), view: view.id, ...event })
    const events = [
      told({ type: 'exposure', experiment: id, variant }),
      told({ type: 'custom', name: 'order', amount: 0.1, currency: 'EUR' }),
    ]
    return JSON.stringify({ key: team.site.key, sent: Date.now(), views: [view], events })
  })
  const send = async (processes: Processes, body: string, index: number) => {
    const reply = await sendFrom(processes, team.site.address, body, `198.51.100.${index}`)
    return ((await reply.json()) as { refused: object[] }).refused
  }
  // Every second batch goes to both at the same moment, as one that is sent again does.
  const refused = await Promise.all(
    bodies.flatMap((body, index) => [
      send(all[index % 2]!, body, index),
      ...(index % 4 < 2 ? [send(all[(index + 1) % 2]!, body, index)] : []),
    ]),
  )
  expect(refused.flat()).toEqual([])
  const read = async () => experimentResults(database, await findSheet(database, team.site.id, id), new Date())
  await expect.poll(async () => (await read()).visitors, { timeout: 120_000 }).toBe(VISITORS)
  const { metrics } = await read()
  const sums = metrics[0]!.arms.map(({ sum }) => sum)
  expect(sums[0]! + sums[1]!).toBeCloseTo(VISITORS * 0.1, 9)
  const { rows } = await database.execute<{ looks: string; days: string }>(sql`
    SELECT count(*) AS looks, count(DISTINCT (metric_version_id, variant, day)) AS days FROM look`)
  expect(rows[0]!.looks).toBe(rows[0]!.days)
})

test('what is set in one web process holds in the other', async () => {
  const team = await createTeam(database)
  const owner = await callerOf(all[0]!.url, team.emails.owner)
  const other = { origin: 'https://tickets.example' }
  const body = () =>
    JSON.stringify({
      key: team.site.key,
      sent: Date.now(),
      views: [{ id: newId(), visitor: visitorId('x'), session: 's', address: 'https://tickets.example/a' }],
      events: [],
    })
  const send = async () =>
    (await fetch(`${all[1]!.url}/collect`, { method: 'POST', body: body(), headers: other })).status
  expect(await send()).toBe(403)
  expect((await owner('PATCH', `/api/sites/${team.site.id}`, { hosts: ['tickets.example'] })).status).toBe(200)
  await expect.poll(send, { timeout: 120_000 }).toBe(200)
})

test('a job that is asked for runs in one of two workers, once', async () => {
  const team = await createTeam(database)
  const order = primaryMetric('Booked', 'mean', { type: 'event', name: 'order' })
  const id = await startedExperiment(database, team.site.id, Date.now() - 3_600_000, order)
  const owner = await callerOf(all[1]!.url, team.emails.owner)
  const path = `/api/sites/${team.site.id}`
  expect((await owner('PATCH', path, { timeZone: 'America/New_York' })).status).toBe(200)
  const jobs = async () => {
    const { rows } = await database.execute<{ state: string }>(
      sql`SELECT state FROM background_job WHERE site_id = ${team.site.id} AND experiment_id = ${id}`,
    )
    return rows.map(({ state }) => state)
  }
  await expect.poll(jobs, { timeout: 120_000 }).toEqual(['done'])
})
