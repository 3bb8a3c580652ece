import { setTimeout as wait } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { expect } from 'vitest'
import { timeOrderedId } from '../core/identity/timeOrderedId'
import type { Database } from '../server/database/connect'
import { visitorId } from './visitorId'

const VISITOR = visitorId('visitor-of-batches')
let count = 0
const newId = () => timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))

export interface SteadyBatches {
  /** Ids of the views and events that were acknowledged. */
  acknowledged: string[]
  /** Settles once this many more are acknowledged, however slow the machine is. */
  progress: (more: number) => Promise<void>
  retries: () => number
  /** Each status that was answered, once. */
  answers: () => ReadonlySet<number>
  /** Settles once everything that was begun is acknowledged. */
  end: () => Promise<void>
}

/** Sends batches of one visitor, each again and again until it is acknowledged, from several senders at the same time. */
export function sendSteadily(url: string, site: { key: string; address: string }): SteadyBatches {
  const acknowledged: string[] = []
  let isOver = false
  let retries = 0
  const answers = new Set<number>()
  const sender = async () => {
    while (!isOver) {
      const views = [{ id: newId(), visitor: VISITOR, session: 'session', address: `${site.address}/` }]
      const events = [...Array(9)].map(() => ({ id: newId(), view: views[0]!.id, type: 'custom', name: 'thing' }))
      for (let isSettled = false; !isSettled;) {
        const body = JSON.stringify({ key: site.key, sent: Date.now(), views, events })
        const reply = await fetch(`${url}/collect`, {
          method: 'POST',
          body,
          headers: { origin: site.address },
          signal: AbortSignal.timeout(5000),
        }).catch(() => null)
        if (reply) answers.add(reply.status)
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
    progress: async (more) => {
      const target = acknowledged.length + more
      while (acknowledged.length < target) await wait(20)
    },
    retries: () => retries,
    answers: () => answers,
    end: async () => {
      isOver = true
      await Promise.all(senders)
    },
  }
}

/** Holds that each of some ids is stored, and no more than once. */
export async function expectEachOnce(database: Database, ids: readonly string[]): Promise<void> {
  const { rows } = await database.execute(
    sql`SELECT id::text AS id, count(*)::int AS times FROM (SELECT id FROM event WHERE visitor_id = ${VISITOR} UNION ALL SELECT id FROM page_view WHERE visitor_id = ${VISITOR}) e GROUP BY id`,
  )
  const times = new Map(rows.map((row) => [row.id, row.times]))
  expect(ids.filter((id) => times.get(id) !== 1)).toEqual([])
}

/** Waits until all is counted, and holds that everything that is there was counted for its visitor, once. */
export async function expectAllCounted(database: Database, url: string): Promise<void> {
  const waiting = async () => (await (await fetch(`${url}/api/health`)).json()).waitingToBeFolded
  await expect.poll(waiting, { timeout: 60_000 }).toBe(0)
  const { rows } = await database.execute<{ counted: number; stored: number }>(sql`
    SELECT v.events AS counted, (SELECT count(*)::int FROM event WHERE visitor_id = v.id)
      + (SELECT count(*)::int FROM page_view WHERE visitor_id = v.id) AS stored
    FROM visitor v WHERE v.id = ${VISITOR}`)
  expect(rows[0]!.counted).toBe(rows[0]!.stored)
}
