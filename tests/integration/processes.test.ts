import { spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, expect, test, vi } from 'vitest'
import { handOverDatabase } from '../../cli/stack/applicationRole'
import { startTemporaryStack, type TemporaryStack } from '../../cli/stack/temporaryStack'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { connect } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'
import { ensurePartitions } from '../../server/database/partitions'
import { openQueue } from '../../server/jobs/queue'
import { runningProcess } from '../../server/database/schema'
import { readHealth } from '../../server/services/health'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { visitorId } from '../visitorId'
import { callerOf, createTeam } from './people'

let stack: TemporaryStack
let team: Awaited<ReturnType<typeof createTeam>>
let owner: Awaited<ReturnType<typeof callerOf>>

beforeAll(async () => {
  stack = await startTemporaryStack()
  team = await createTeam(stack.database)
  await compileSiteFile(stack.database, team.site.id)
  owner = await callerOf(stack.url, team.emails.owner)
})
afterAll(() => stack.stop())

let count = 0
const collectedBy = (origin: string) => {
  const id = timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
  const view = { id, visitor: visitorId('of-processes'), session: 'session', address: team.site.address }
  return fetch(`${origin}/collect`, {
    method: 'POST',
    body: JSON.stringify({ key: team.site.key, sent: Date.now(), views: [view], events: [] }),
    headers: { origin: team.site.address },
  })
}
const originOf = (name: string) => `http://127.0.0.1:${stack.portOf(name)}`
const statusOf = async (origin: string, path: string) => (await fetch(`${origin}${path}`)).status
const report = () => owner('GET', `/api/sites/${team.site.id}/evidence/choices`)

test('the edge answers pages and nothing else, the application everything else, and the gateway both', async () => {
  const ofPages = [`/s/${team.site.key}.js`, `/s/${team.site.key}.json`, '/recorder.js', `/place?key=${team.site.key}`]
  const ofOthers = ['/api/account', '/sign-in', '/api/openapi.json']
  const statuses = async (origin: string, paths: string[]) => [
    ...new Set(await Promise.all(paths.map((path) => statusOf(origin, path)))),
  ]
  expect(await statuses(stack.url, [...ofPages, ...ofOthers])).toEqual([200])
  expect(await statuses(originOf('edge'), ofPages)).toEqual([200])
  expect(await statuses(originOf('edge'), ofOthers)).toEqual([404])
  expect(await statuses(originOf('web'), ofOthers)).toEqual([200])
  expect(await statuses(originOf('web'), ofPages)).toEqual([404])
  expect([(await collectedBy(stack.url)).status, (await collectedBy(originOf('web'))).status]).toEqual([200, 404])
})

test('pages are served and counted while everything else stands still', async () => {
  const others = ['web', 'reports', 'worker'].map((name) => stack.current(name))
  others.forEach((child) => child.kill('SIGSTOP'))
  try {
    expect(await statusOf(stack.url, `/s/${team.site.key}.js`)).toBe(200)
    expect(await (await collectedBy(stack.url)).json()).toEqual({ accepted: 1, refused: [] })
  } finally {
    others.forEach((child) => child.kill('SIGCONT'))
  }
})

test('what is asked while a process is started again waits for it', async () => {
  expect((await report()).status).toBe(200)
  const askedWhileStarting = async (name: string) => {
    const gone = new Promise((ended) => stack.current(name).once('exit', ended))
    stack.current(name).kill('SIGKILL')
    await gone
    const asked = [statusOf(stack.url, `/s/${team.site.key}.js`), statusOf(stack.url, '/api/account')]
    const reported = report()
    stack.start(name)
    return [...(await Promise.all(asked)), (await reported).status]
  }
  // It waits for five seconds; a machine with much to do may start a process later than that.
  for (const name of ['edge', 'web', 'reports'])
    await vi.waitFor(async () => expect(await askedWhileStarting(name), name).toEqual([200, 200, 200]), {
      timeout: 120_000,
      interval: 5000,
    })
})

test('reports are answered to whoever shows the key of the installation only', async () => {
  const ask = (headers: Record<string, string>) => fetch(originOf('reports'), { method: 'POST', body: 'x', headers })
  expect((await ask({})).status).toBe(401)
  expect((await ask({ authorization: 'Bearer made-up' })).status).toBe(401)
})

/** Where the folder is closed to other users, root runs all, and the start says so. */
const isOpenToOthers = () =>
  spawnSync('setpriv', ['--reuid=nobody', '--clear-groups', 'test', '-r', '.output/server/index.mjs']).status === 0

test.runIf(process.getuid?.() === 0 && isOpenToOthers())(
  'each process is a user’s of its own, without rights beyond its work',
  async () => {
    const statusOfProcess = (name: string, line: string) =>
      new RegExp(`^${line}:\\s+(\\S+)`, 'm').exec(readFileSync(`/proc/${stack.current(name).pid}/status`, 'utf8'))![1]!
    const names = ['gateway', 'edge', 'web', 'reports', 'worker', 'browser']
    const users = names.map((name) => statusOfProcess(name, 'Uid'))
    expect(new Set(users).size).toBe(names.length)
    expect(users).not.toContain('0')
    for (const name of names) expect([name, statusOfProcess(name, 'NoNewPrivs')]).toEqual([name, '1'])
    // The gateway may listen where others may not; nobody else has any right of root's.
    const rights = names.map((name) => BigInt(`0x${statusOfProcess(name, 'CapEff')}`))
    expect(rights).toEqual([1n << 10n, 0n, 0n, 0n, 0n, 0n])
    // Whose browsers open pages of strangers knows no secret of the others.
    const known = readFileSync(`/proc/${stack.current('browser').pid}/environ`, 'utf8')
    expect(known).not.toMatch(/postgres|SESSION_PASSWORD/)
  },
)

test('the role of the processes may use their database, and nothing else', async () => {
  const { rows } = await stack.database.execute<Record<string, unknown>>(sql`
    SELECT rolsuper, rolcreatedb, rolcreaterole, rolbypassrls FROM pg_roles WHERE rolname = current_user`)
  expect(Object.values(rows[0]!)).toEqual([false, false, false, false])
  for (const tried of [`COPY site TO PROGRAM 'cat'`, `SELECT pg_read_file('/etc/passwd')`, 'CREATE DATABASE another'])
    await expect(stack.database.execute(sql.raw(tried)), tried).rejects.toMatchObject({ cause: { code: '42501' } })
})

test('a database of a superuser’s is handed over, with what is in it, and works as before', async () => {
  const admin = new pg.Client({ connectionString: stack.cluster.adminUrl })
  await admin.connect()
  await admin.query('CREATE DATABASE earlier')
  const earlierOf = (url: string) => Object.assign(new URL(url), { pathname: 'earlier' }).href
  const asBefore = connect(earlierOf(stack.cluster.adminUrl), 1)
  await migrate(asBefore)
  await (await openQueue(earlierOf(stack.cluster.adminUrl), 'worker')).stop({ graceful: false })
  await asBefore.$client.end()
  const refused = connect(earlierOf(stack.cluster.url), 1)
  await expect(refused.execute(sql`SELECT FROM site`)).rejects.toMatchObject({ cause: { code: '42501' } })
  await refused.$client.end()

  await handOverDatabase(earlierOf(stack.cluster.adminUrl))
  await handOverDatabase(earlierOf(stack.cluster.adminUrl))
  const now = connect(earlierOf(stack.cluster.url), 2)
  await now.execute(sql`ALTER TABLE site ADD COLUMN more text`)
  await now.execute(sql`ALTER TYPE exclusion_kind ADD VALUE 'more'`)
  expect((await createTeam(now)).site.id).toBeGreaterThan(0)
  await ensurePartitions(now, new Date(Date.UTC(2031, 0)))
  await (await openQueue(earlierOf(stack.cluster.url), 'worker')).stop({ graceful: false })
  const { rows } = await now.execute(sql`
    SELECT c.oid::regclass::text AS name FROM pg_class c JOIN pg_roles r ON r.oid = c.relowner
    WHERE r.rolname <> current_user AND c.relnamespace NOT IN ('pg_catalog'::regnamespace, 'pg_toast'::regnamespace, 'information_schema'::regnamespace)`)
  expect(rows).toEqual([])
  await now.$client.end()
  await admin.query('DROP DATABASE earlier')
  await admin.end()
})

test('health says how each process fares, and misses one that is gone', async () => {
  const health = async () => (await fetch(`${stack.url}/api/health`)).json()
  const roles = async () => new Set((await health()).processes.map(({ role }: { role: string }) => role))
  await expect.poll(roles, { timeout: 120_000 }).toEqual(new Set(['gateway', 'edge', 'web', 'reports', 'worker']))
  const { status, processes } = await health()
  expect(status).toBe('ok')
  for (const { delay, seen } of processes) {
    expect(delay).toBeGreaterThanOrEqual(0)
    expect(seen).toBeLessThan(30)
  }
  // The edge has just taken a batch, and says how long that took.
  await collectedBy(stack.url)
  const work = async () => Math.max(...(await health()).processes.map(({ work }: { work: number | null }) => work ?? 0))
  await expect.poll(work, { timeout: 120_000 }).toBeGreaterThan(0)

  const set = (seenAt: string) =>
    stack.database
      .insert(runningProcess)
      .values({ name: 'missed', role: 'another', startedAt: new Date(), seenAt: sql.raw(seenAt), delay: 0 })
      .onConflictDoUpdate({ target: runningProcess.name, set: { seenAt: sql.raw(seenAt) } })
  await set(`now() - interval '1 minute'`)
  expect((await readHealth(stack.database)).status).toBe('degraded')
  // One that was taken away is not missed for ever.
  await set(`now() - interval '11 minutes'`)
  expect((await readHealth(stack.database)).status).toBe('ok')
})
