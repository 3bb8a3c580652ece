import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { startTemporaryStack, type TemporaryStack } from '../../cli/stack/temporaryStack'
import { connect } from '../../server/database/connect'
import { createTeam } from './people'
import { visitorId } from '../visitorId'

let count = 0
const newId = () => timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
let stack: TemporaryStack
let team: Awaited<ReturnType<typeof createTeam>>

beforeAll(async () => {
  stack = await startTemporaryStack()
  team = await createTeam(stack.database)
})
afterAll(() => stack.stop())

const postmaster = () => Number(readFileSync(join(stack.cluster.folder, 'postmaster.pid'), 'utf8').split('\n')[0])

/** Sends batches, each again and again until it is acknowledged, from several senders at the same time. */
function stream() {
  const acknowledged: string[] = []
  let isOver = false
  let retries = 0
  const sender = async () => {
    while (!isOver) {
      const views = [
        { id: newId(), visitor: visitorId('visitor-crash'), session: 'session', address: `${team.site.address}/` },
      ]
      const events = [...Array(9)].map(() => ({ id: newId(), view: views[0]!.id, type: 'custom', name: 'thing' }))
      for (let isSettled = false; !isSettled;) {
        const body = JSON.stringify({ key: team.site.key, sent: Date.now(), views, events })
        const reply = await fetch(`${stack.url}/collect`, {
          method: 'POST',
          body,
          headers: { origin: team.site.address },
          signal: AbortSignal.timeout(5000),
        }).catch(() => null)
        isSettled = reply?.status === 200
        if (isSettled) acknowledged.push(...[...views, ...events].map(({ id }) => id))
        else {
          retries++
          await wait(100)
        }
      }
    }
  }
  const senders = [...Array(6)].map(sender)
  return {
    acknowledged,
    /** Settles once this many events more are acknowledged, however slow the machine is. */
    progress: async (more: number) => {
      const target = acknowledged.length + more
      while (acknowledged.length < target) await wait(20)
    },
    retries: () => retries,
    end: async () => {
      isOver = true
      await Promise.all(senders)
    },
  }
}

async function expectEachOnce(ids: readonly string[]): Promise<void> {
  const { rows } = await stack.database.execute(
    sql`SELECT id::text AS id, count(*)::int AS times FROM (SELECT id FROM event WHERE visitor_id = ${visitorId('visitor-crash')} UNION ALL SELECT id FROM page_view WHERE visitor_id = ${visitorId('visitor-crash')}) e GROUP BY id`,
  )
  const times = new Map(rows.map((row) => [row.id, row.times]))
  expect(ids.filter((id) => times.get(id) !== 1)).toEqual([])
}

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
  await expectEachOnce(sending.acknowledged)
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
  await expectEachOnce(sending.acknowledged)
  expect((await fetch(`${stack.url}/api/health`)).status).toBe(200)
})

/** Three of each by itself; more where somebody asks for it: VETCH_KILLS=9 makes it 54. */
const KILLS_OF_EACH = Number(process.env.VETCH_KILLS ?? 3)

test(
  'what was acknowledged is there once, whichever process is killed, again and again, and all is counted in the end',
  async () => {
    const sending = stream()
    for (let round = 0; round < KILLS_OF_EACH; round++)
      for (const name of ['gateway', 'edge', 'web', 'reports', 'worker', 'database']) {
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
    await expectEachOnce(sending.acknowledged)
    const waiting = async () => (await (await fetch(`${stack.url}/api/health`)).json()).waitingToBeFolded
    await expect.poll(waiting, NO_HURRY).toBe(0)
    // Everything that is there has been counted for its visitor, once.
    const { rows } = await stack.database.execute<{ counted: number; stored: number }>(sql`
      SELECT v.events AS counted, (SELECT count(*)::int FROM event WHERE visitor_id = v.id)
        + (SELECT count(*)::int FROM page_view WHERE visitor_id = v.id) AS stored
      FROM visitor v WHERE v.id = ${visitorId('visitor-crash')}`)
    expect(rows[0]!.counted).toBe(rows[0]!.stored)
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
