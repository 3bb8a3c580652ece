import { spawnSync } from 'node:child_process'
import {
  chmodSync,
  closeSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { startCluster, type Cluster } from '../../cli/stack/cluster'
import { keepRunning } from '../../cli/stack/keepRunning'
import { startProcesses, type Processes } from '../../cli/stack/temporaryStack'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { expectAllCounted, expectEachOnce, sendSteadily } from '../steadyBatches'
import { createTeam } from './people'

/** What makes programs see another time; `./vetch test` installs it. */
const FAKE_TIME = ['x86_64', 'aarch64']
  .map((machine) => `/usr/lib/${machine}-linux-gnu/faketime/libfaketime.so.1`)
  .find((path) => existsSync(path))
/** How long the database hangs, and the disk is full; more where somebody asks for it: VETCH_OUTAGE=60. */
const OUTAGE_SECONDS = Number(process.env.VETCH_OUTAGE ?? 6)
const SMALL_DISK = '900m'
const NO_HURRY = { timeout: 90_000 }

const root = mkdtempSync(join(tmpdir(), 'vetch-outages-'))
const disk = join(root, 'disk')
const clock = join(root, 'clock')
/** A file system of its own, where this may be made. */
const isSmallDisk = () => spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${SMALL_DISK}`, 'tmpfs', disk]).status === 0
let hasSmallDisk = false
let cluster: Cluster
let processes: Processes
let database: Database
let team: Awaited<ReturnType<typeof createTeam>>
let letGo: () => void

beforeAll(async () => {
  mkdirSync(disk)
  hasSmallDisk = isSmallDisk()
  const folder = join(disk, 'data')
  mkdirSync(folder)
  // The database's user has to be let in, and everybody may read the clock.
  for (const each of [root, disk, folder]) chmodSync(each, 0o755)
  setClock(0)
  // What sets the clock keeps a process from changing its user while it begins: here all run as who runs the test.
  if (FAKE_TIME)
    Object.assign(process.env, {
      LD_PRELOAD: FAKE_TIME,
      FAKETIME_TIMESTAMP_FILE: clock,
      FAKETIME_CACHE_DURATION: '1',
      FAKETIME_DONT_FAKE_MONOTONIC: '1',
    })
  cluster = await startCluster(folder)
  letGo = keepRunning(cluster)
  database = connect(cluster.url, 4)
  await migrate(database)
  team = await createTeam(database)
  await compileSiteFile(database, team.site.id)
  processes = await startProcesses(cluster.url, folder)
  // What is served while the database hangs is what was asked for before.
  expect((await fetch(`${processes.url}/s/${team.site.key}.js`)).status).toBe(200)
})
afterAll(async () => {
  letGo()
  processes.stop()
  await database.$client.end()
  cluster.stop()
  for (const name of ['LD_PRELOAD', 'FAKETIME_TIMESTAMP_FILE']) Reflect.deleteProperty(process.env, name)
  if (hasSmallDisk) spawnSync('umount', [disk])
  rmSync(root, { recursive: true, force: true })
})

/** Sets all clocks of the server apart from those of browsers. */
function setClock(seconds: number): void {
  writeFileSync(clock, `${seconds < 0 ? '-' : '+'}${Math.abs(seconds)}\n`)
}

async function expectNothingLost(ids: readonly string[]): Promise<void> {
  await expect.poll(async () => (await fetch(`${processes.url}/api/health`)).status, NO_HURRY).toBe(200)
  await expectEachOnce(database, ids)
  await expectAllCounted(database, processes.url)
}

test.runIf(FAKE_TIME)(
  'a clock of the server that leaps an hour ahead, and two hours back, loses and doubles nothing',
  async () => {
    const serverTime = async () => {
      const { rows } = await database.execute<{ now: number }>(
        sql`SELECT extract(epoch FROM clock_timestamp())::float8 AS now`,
      )
      return rows[0]!.now - Date.now() / 1000
    }
    const sending = sendSteadily(processes.url, team.site)
    await sending.progress(100)
    for (const seconds of [3600, -3600, 0]) {
      setClock(seconds)
      await expect.poll(serverTime, NO_HURRY).toBeCloseTo(seconds, -1)
      await sending.progress(200)
    }
    await sending.end()
    await expectNothingLost(sending.acknowledged)
    // What browsers say of their time is put right by the clock that received it: never later than that.
    const { rows } = await database.execute<{ late: number }>(sql`
    SELECT count(*)::int AS late FROM page_view WHERE site_id = ${team.site.id} AND occurred_at > received_at`)
    expect(rows).toEqual([{ late: 0 }])
  },
)

test('while the database hangs pages are served, nothing is acknowledged, and afterward nothing is lost', async () => {
  const sending = sendSteadily(processes.url, team.site)
  await sending.progress(100)
  const hanging = processesOf(cluster)
  hanging.forEach((pid) => process.kill(pid, 'SIGSTOP'))
  // What was on its way is settled.
  await wait(1000)
  const before = sending.acknowledged.length
  const until = Date.now() + OUTAGE_SECONDS * 1000
  let served = 0
  while (Date.now() < until) {
    const script = await fetch(`${processes.url}/s/${team.site.key}.js`, { signal: AbortSignal.timeout(2000) })
    expect(script.status).toBe(200)
    served++
    await wait(200)
  }
  expect(served).toBeGreaterThan(OUTAGE_SECONDS)
  expect(sending.acknowledged.length).toBe(before)
  hanging.forEach((pid) => process.kill(pid, 'SIGCONT'))
  await sending.progress(200)
  await sending.end()
  await expectNothingLost(sending.acknowledged)
}, 300_000)

test('a disk that is full loses nothing that was acknowledged, and all goes on once there is room', async ({
  skip,
}) => {
  if (!hasSmallDisk) return skip('No file system may be mounted here.')
  if (!cluster.folder.startsWith(disk)) return skip('The database’s user may not enter the folder for temporary files.')
  const sending = sendSteadily(processes.url, team.site)
  await sending.progress(100)
  const filler = join(disk, 'filler')
  fill(filler)
  const retries = sending.retries()
  // Something is tried again, and what lies in memory is written until it is full as well.
  await expect.poll(() => sending.retries() - retries, NO_HURRY).toBeGreaterThan(20)
  await wait(OUTAGE_SECONDS * 1000)
  expect([...sending.answers()].filter((status) => status >= 500 && status !== 503)).toEqual([])
  rmSync(filler)
  await sending.progress(200)
  await sending.end()
  await expectNothingLost(sending.acknowledged)
}, 300_000)

/** Fills a file system to its last byte. */
function fill(file: string): void {
  const part = Buffer.alloc(64 * 1024)
  const descriptor = openSync(file, 'w')
  for (let size = part.length; size >= 1;)
    try {
      writeSync(descriptor, part, 0, size)
    } catch {
      size >>= 1
    }
  closeSync(descriptor)
}

/** The server of a cluster, and all that it has started. */
function processesOf({ folder }: Cluster): number[] {
  const server = Number(readFileSync(join(folder, 'postmaster.pid'), 'utf8').split('\n')[0])
  const children = readdirSync('/proc').filter((pid) => {
    try {
      return new RegExp(`^PPid:\\s+${server}$`, 'm').test(readFileSync(`/proc/${pid}/status`, 'utf8'))
    } catch {
      return false
    }
  })
  return [server, ...children.map(Number)]
}
