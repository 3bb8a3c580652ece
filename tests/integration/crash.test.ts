import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { startTemporaryStack, type TemporaryStack } from '../../cli/stack/temporaryStack'
import { connect } from '../../server/database/connect'
import { createTeam } from './people'
import { expectAllCounted, expectEachOnce, sendSteadily } from '../steadyBatches'

let stack: TemporaryStack
let team: Awaited<ReturnType<typeof createTeam>>

beforeAll(async () => {
  stack = await startTemporaryStack()
  team = await createTeam(stack.database)
})
afterAll(() => stack.stop())

const postmaster = () => Number(readFileSync(join(stack.cluster.folder, 'postmaster.pid'), 'utf8').split('\n')[0])

const stream = () => sendSteadily(stack.url, team.site)
const NO_HURRY = { timeout: 60_000 }

test('what was acknowledged is there once, though the edge is killed in the middle', async () => {
  const sending = stream()
  await sending.progress(100)
  const before = sending.acknowledged.length
  stack.current('edge').kill('SIGKILL')
  await expect.poll(sending.retries, NO_HURRY).toBeGreaterThan(0)
  stack.start('edge')
  await sending.progress(100)
  await sending.end()
  expect(sending.acknowledged.length).toBeGreaterThan(before)
  expect(sending.retries()).toBeGreaterThan(0)
  await expectEachOnce(stack.database, sending.acknowledged)
})

test('what was acknowledged is there once, though the database is killed in the middle; health says so', async () => {
  const sending = stream()
  await sending.progress(100)
  const before = sending.acknowledged.length
  process.kill(postmaster(), 'SIGKILL')
  const health = async () => {
    const answer = await fetch(`${stack.url}/api/health`)
    return [answer.status, (await answer.json()).database]
  }
  await expect.poll(health, NO_HURRY).toEqual([503, 'away'])
  await expect.poll(sending.retries, NO_HURRY).toBeGreaterThan(0)
  await restart()
  await sending.progress(100)
  await sending.end()
  expect(sending.acknowledged.length).toBeGreaterThan(before)
  expect(sending.retries()).toBeGreaterThan(0)
  await expectEachOnce(stack.database, sending.acknowledged)
  expect((await fetch(`${stack.url}/api/health`)).status).toBe(200)
})

/** Three of each by itself; more where somebody asks for it: VETCH_KILLS=9 makes it 63. */
const KILLS_OF_EACH = Number(process.env.VETCH_KILLS ?? 3)

test(
  'what was acknowledged is there once, whichever process is killed, again and again, and all is counted in the end',
  async () => {
    const sending = stream()
    for (let round = 0; round < KILLS_OF_EACH; round++)
      for (const name of ['gateway', 'edge', 'web', 'reports', 'worker', 'browser', 'database']) {
        await sending.progress(20 + Math.floor(Math.random() * 40))
        if (name === 'database') {
          process.kill(postmaster(), 'SIGKILL')
          await restart()
        } else {
          const gone = new Promise((ended) => stack.current(name).once('exit', ended))
          stack.current(name).kill('SIGKILL')
          await gone
          stack.start(name)
        }
      }
    await sending.progress(50)
    await sending.end()
    await expectEachOnce(stack.database, sending.acknowledged)
    await expectAllCounted(stack.database, stack.url)
  },
  20 * 60_000,
)

/** The killed database's children hold its memory for a moment longer. */
async function restart(): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      return stack.cluster.restart()
    } catch (error) {
      if (tries === 20) throw error
      await wait(500)
    }
  }
}

test('a connection that breaks in the middle of a transaction fails it, and ends no process', async () => {
  const [own, other] = [connect(stack.cluster.url, 1), connect(stack.cluster.url, 1)]
  const broken = own.transaction(async (tx) => {
    const { rows } = await tx.execute<{ pid: number }>(sql`SELECT pg_backend_pid() AS pid`)
    await other.execute(sql`SELECT pg_terminate_backend(${rows[0]!.pid})`)
    // Nothing is asked of the connection while it breaks.
    await wait(200)
    await tx.execute(sql`SELECT 1`)
  })
  await expect(broken).rejects.toThrow()
  expect((await own.execute(sql`SELECT 1 AS one`)).rows).toEqual([{ one: 1 }])
  await Promise.all([own.$client.end(), other.$client.end()])
})
