import { gzipSync } from 'node:zlib'
import { sql } from 'drizzle-orm'
import { afterAll, expect, test } from 'vitest'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { connect } from '../../server/database/connect'
import { openQueue } from '../../server/jobs/queue'
import { writeChunk } from '../../server/intake/writeChunk'
import { createArchive } from '../../server/services/evidence/archive'
import { addExclusion } from '../../server/services/experiments/exclusions'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { eraseVisitor } from '../../server/services/visitors/eraseVisitor'
import { exportVisitor } from '../../server/services/visitors/exportVisitor'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
const queue = await openQueue(databaseUrl, 'sender')
afterAll(async () => {
  await queue.stop({ graceful: false })
  await database.$client.end()
})

const ERASED = 'visitor-to-be-erased'

function visitOf(visitor: string, experiment: number, variant: number, amount: number): Happening[] {
  const at = Date.now() - 3_600_000
  const view = { sessionId: `session-${visitor}` }
  return [
    { visitor, at, type: 'exposure', path: '/', experiment, variant, view },
    { visitor, at: at + 1000, type: 'custom', name: 'order', amount, reference: visitor, view },
  ]
}

test('an erased visitor is gone from every table and every number, as if they had never come', async () => {
  const results = async (withErased: boolean) => {
    const team = await createTeam(database)
    const order = primaryMetric('Order value', 'mean', { type: 'event', name: 'order' })
    const experimentId = await startedExperiment(database, team.site.id, Date.now() - 86_400_000, order)
    const people = [...Array(12).keys()].flatMap((index) =>
      visitOf(`visitor-${index}`, experimentId, index % 2, 10 + index),
    )
    await happen(database, team.site, withErased ? [...people, ...visitOf(ERASED, experimentId, 1, 500)] : people)
    await folded(database, team.site.id)
    return {
      siteId: team.site.id,
      experimentId,
      read: async () => experimentResults(database, await findSheet(database, team.site.id, experimentId), new Date()),
    }
  }
  const numbers = ({ metrics }: Awaited<ReturnType<Awaited<ReturnType<typeof results>>['read']>>) =>
    metrics.map(({ arms }) => arms.map(({ visitors, sum, mean }) => ({ visitors, sum, mean })))
  const without = await results(false)
  const { siteId, experimentId, read } = await results(true)
  const at = Date.now() - 3_600_000
  await writeChunk(database.$client, {
    ...{
      siteId,
      visitorId: ERASED,
      sessionId: `session-${ERASED}`,
      number: 0,
      first: new Date(at),
      last: new Date(at + 9),
    },
    ...{ id: timeOrderedId(at, 0, new Uint8Array(8)), viewId: timeOrderedId(at, 1, new Uint8Array(8)) },
    content: gzipSync(JSON.stringify([{ type: 4, timestamp: at, data: { told: 'once' } }])),
  })
  await addExclusion(
    database,
    queue,
    { siteId, experimentId, personId: null },
    { kind: 'visitor', visitor: ERASED, reason: 'By mistake' },
  )
  const archive = createArchive(database.$client)
  const range = {
    from: new Date(at - 86_400_000).toISOString().slice(0, 10),
    to: new Date(at + 86_400_000).toISOString().slice(0, 10),
  }
  const seen = async () => (await archive.answer(siteId, 'pages', range)).visitors
  expect(await seen()).toBe(13)
  expect(numbers(await read())).not.toEqual(numbers(await without.read()))

  const found = await exportVisitor(database, siteId, ERASED)
  expect(found).toMatchObject({
    id: ERASED,
    recorded: [{ events: [{ data: { told: 'once' } }] }],
    exclusion: [{ reason: 'By mistake' }],
  })
  expect((found.page_view as object[]).length + (found.event as object[]).length).toBe(4)
  expect(JSON.stringify(found)).not.toMatch(/digest|network/)

  expect(await eraseVisitor(database, siteId, null, ERASED)).toBeGreaterThan(8)
  expect(numbers(await read())).toEqual(numbers(await without.read()))
  expect(await seen()).toBe(12)
  const { rows: tables } = await database.execute<{ name: string }>(sql`
    SELECT format('%I.%I', table_schema, table_name) AS name FROM information_schema.tables
    WHERE table_type = 'BASE TABLE' AND table_schema NOT IN ('pg_catalog', 'information_schema')`)
  const pattern = `%${ERASED}%`
  for (const { name } of tables) {
    const { rows } = await database.execute(sql`SELECT 1 FROM ${sql.raw(name)} t WHERE t::text LIKE ${pattern} LIMIT 1`)
    expect([name, rows.length]).toEqual([name, 0])
  }
  await expect(eraseVisitor(database, siteId, null, ERASED)).rejects.toMatchObject({ status: 404 })
  await expect(exportVisitor(database, siteId, ERASED)).rejects.toMatchObject({ status: 404 })
})
