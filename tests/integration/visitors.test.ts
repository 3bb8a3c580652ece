import { recordedChunk } from '../recordedChunk'
import type { PersonExport } from '../../shared/visitors/operations'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { finding } from '../../server/database/schema'
import { forgetRawEvents, keepHouse } from '../../server/jobs/housekeeping'
import { openQueue } from '../../server/jobs/queue'
import { writeChunk } from '../../server/intake/recordings/writeChunk'
import { createArchive } from '../../server/services/evidence/archive'
import { addExclusion } from '../../server/services/experiments/exclusions'
import { findSheet } from '../../server/services/experiments/sheet'
import { freezeView } from '../../server/services/findings/frozenView'
import { experimentResults } from '../../server/services/results/results'
import { eraseVisitor } from '../../server/services/visitors/eraseVisitor'
import { exportVisitor } from '../../server/services/visitors/exportVisitor'
import type { FrozenView } from '../../shared/findings/finding'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { HOUR } from '../../core/time/units'

const { databaseUrl, url } = ownStack()
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

async function exported(siteId: number, visitor: string): Promise<Record<string, unknown>> {
  let text = ''
  for await (const piece of await exportVisitor(database, siteId, visitor)) text += piece
  return JSON.parse(text) as Record<string, unknown>
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
  const events = [{ type: 4, timestamp: at, data: { told: 'once' } }]
  const chunk = recordedChunk(siteId, ERASED, `session-${ERASED}`, at, events)
  expect(await writeChunk(database.$client, chunk)).toBe('kept')
  await addExclusion(
    database,
    queue,
    { siteId, experimentId, personId: null },
    { kind: 'visitor', visitor: ERASED, reason: 'By mistake' },
  )
  await database.execute(sql`
    INSERT INTO exclusion (site_id, experiment_id, kind, crowd, visitor_ids, reason)
    VALUES (${siteId}, ${experimentId}, 'crowd', '{}', ARRAY[${ERASED}, 'another'], 'A crowd')`)
  const archive = createArchive(database.$client)
  const range = {
    from: new Date(at - 86_400_000).toISOString().slice(0, 10),
    to: new Date(at + 86_400_000).toISOString().slice(0, 10),
  }
  const seen = async () => (await archive.answer(siteId, 'pages', range)).visitors
  expect(await seen()).toBe(13)
  expect(numbers(await read())).not.toEqual(numbers(await without.read()))

  const found = await exported(siteId, ERASED)
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

describe('persons', () => {
  const KNOWN = 'ab'.repeat(16)
  const OTHER = 'cd'.repeat(16)
  let team: Awaited<ReturnType<typeof createTeam>>
  let experimentId: number
  const START = Date.now() - 3 * 86_400_000

  beforeEach(async () => {
    team = await createTeam(database)
    const order = primaryMetric('Order value', 'mean', { type: 'event', name: 'order' })
    experimentId = await startedExperiment(database, team.site.id, START, order)
    await database.execute(
      sql`UPDATE experiment SET terms = jsonb_set(terms, '{unit}', '"person"') WHERE id = ${experimentId}`,
    )
  })
  const seenOn = (visitor: string, hours: number, personId = KNOWN): Happening => ({
    visitor,
    at: START + hours * HOUR,
    type: 'exposure',
    experiment: experimentId,
    variant: 1,
    view: { personId, device: visitor.slice(0, 5), sessionId: `s${hours}` },
  })
  const bought = (visitor: string, hours: number, amount: number, personId = KNOWN): Happening => ({
    visitor,
    at: START + hours * HOUR,
    type: 'custom',
    name: 'order',
    amount,
    view: { personId, sessionId: `s${hours}` },
  })
  const read = async () => {
    await folded(database, team.site.id)
    const sheet = await findSheet(database, team.site.id, experimentId)
    const { metrics } = await experimentResults(database, sheet, new Date())
    const { visitors, sum } = metrics[0]!.arms[1]!
    const { rows } = await database.execute<{ at: Date; device: string }>(sql`
      SELECT exposed_at AS at, segments->>'device' AS device FROM exposure
      WHERE site_id = ${team.site.id} AND visitor_id = ${`~${KNOWN}`}`)
    return { visitors, sum, device: rows[0]?.device ?? null }
  }
  const both = () =>
    happen(database, team.site, [
      seenOn('phone-of-one', 1),
      bought('phone-of-one', 2, 10),
      seenOn('desktop-of-one', 20),
      bought('desktop-of-one', 21, 7),
    ])

  test('keep what their other devices did when one is erased, in whatever order it comes', async () => {
    await both()
    expect(await read()).toEqual({ visitors: 1, sum: 17, device: 'phone' })
    await eraseVisitor(database, team.site.id, null, 'phone-of-one')
    const left = { visitors: 1, sum: 7, device: 'deskt' }
    expect(await read()).toEqual(left)
    await happen(database, team.site, [bought('desktop-of-one', 30, 5)])
    expect(await read()).toEqual({ ...left, sum: 12 })
    await eraseVisitor(database, team.site.id, null, 'desktop-of-one')
    expect(await read()).toEqual({ visitors: 0, sum: 0, device: null })
    for (const table of ['visitor', 'exposure', 'visitor_value', 'person_session', 'page_view'])
      expect(
        (await database.execute(sql`SELECT 1 FROM ${sql.raw(table)} WHERE site_id = ${team.site.id}`)).rows,
      ).toEqual([])
  })

  test('go with their last device also where their events were deleted before', async () => {
    await happen(database, team.site, [seenOn('phone-of-one', 1), bought('phone-of-one', 2, 10)])
    await read()
    await forgetRawEvents(database, new Date(Date.now() + 500 * 86_400_000))
    await eraseVisitor(database, team.site.id, null, 'phone-of-one')
    expect(await read()).toEqual({ visitors: 0, sum: 0, device: null })
  })

  test('whom a stranger claims to be are neither handed out nor erased with the stranger', async () => {
    await both()
    await happen(database, team.site, [{ visitor: 'stranger-who-claims', at: START + HOUR, view: { personId: KNOWN } }])
    const before = await read()
    const found = await exported(team.site.id, 'stranger-who-claims')
    expect(JSON.stringify(found)).not.toMatch(/of-one/)
    expect([found.exposure, found.visitor_value]).toEqual([[], []])
    await eraseVisitor(database, team.site.id, null, 'stranger-who-claims')
    expect(await read()).toEqual(before)
  })

  test('are found, handed out and erased by themselves, with the devices that are named', async () => {
    await both()
    await happen(database, team.site, [
      seenOn('desktop-of-one', 40, OTHER),
      bought('desktop-of-one', 41, 100, OTHER),
      { visitor: 'phone-of-one', at: START + 50 * HOUR, view: { sessionId: 'unnamed' } },
    ])
    await read()
    const owner = await callerOf(url, team.emails.owner)
    const path = `/api/sites/${team.site.id}/persons/${KNOWN}`
    const found = (await (await owner('GET', path)).json()) as PersonExport
    expect(found.devices.map(({ visitor, views, otherPersons }) => [visitor, views, otherPersons])).toEqual([
      ['desktop-of-one', 2, 1],
      ['phone-of-one', 2, 0],
    ])
    expect([found.kept.exposure!.length, found.kept.event!.length]).toEqual([1, 4])
    const editor = await callerOf(url, team.emails.editor)
    expect((await editor('GET', path)).status).toBe(403)
    expect((await owner('DELETE', path, { visitors: ['somebody-else'] })).status).toBe(422)
    expect((await owner('DELETE', path, { visitors: [] })).status).toBe(422)
    const twice = { visitors: ['phone-of-one', 'phone-of-one'] }
    expect((await owner('DELETE', path, twice)).status).toBe(200)
    const left = await read()
    expect(left).toEqual({ visitors: 2, sum: 107, device: 'deskt' })
    expect((await owner('DELETE', path, { visitors: ['desktop-of-one'] })).status).toBe(200)
    expect((await read()).visitors).toBe(0)
    expect((await owner('GET', path)).status).toBe(404)
  })

  test('are found on a device whose page named them only after it began', async () => {
    await both()
    await happen(database, team.site, [{ ...bought('named-late', 50, 3), view: { sessionId: 'late' } }])
    await database.execute(sql`
      UPDATE event SET person_id = ${KNOWN} WHERE site_id = ${team.site.id} AND visitor_id = 'named-late'`)
    expect((await read()).sum).toBe(20)
    const owner = await callerOf(url, team.emails.owner)
    const path = `/api/sites/${team.site.id}/persons/${KNOWN}`
    const { devices } = (await (await owner('GET', path)).json()) as PersonExport
    expect(devices.map(({ visitor, views }) => [visitor, views])).toEqual([
      ['named-late', 0],
      ['desktop-of-one', 2],
      ['phone-of-one', 2],
    ])
    expect((await owner('DELETE', path, { visitors: devices.map(({ visitor }) => visitor) })).status).toBe(200)
    expect(await read()).toMatchObject({ visitors: 0, sum: 0 })
    const { rows } = await database.execute(sql`SELECT 1 FROM event WHERE site_id = ${team.site.id}`)
    expect(rows).toEqual([])
  })
})

test('an id that is a word is forgotten as an id, and words of findings and the log stay', async () => {
  const team = await createTeam(database)
  const siteId = team.site.id
  const experimentId = await startedExperiment(
    database,
    siteId,
    Date.now() - 86_400_000,
    primaryMetric('Crossings', 'mean', { type: 'event', name: 'question' }),
  )
  const at = Date.now() - HOUR
  for (const visitor of ['question', 'crossings', 'somebody-else-entirely'])
    await happen(database, team.site, [
      { visitor, at, path: '/crossings/', type: 'custom', name: visitor === 'question' ? 'unheard-of' : 'common' },
    ])
  await folded(database, siteId)
  for (const visitor of ['question', 'crossings'])
    await addExclusion(
      database,
      queue,
      { siteId, experimentId, personId: null },
      { kind: 'visitor', visitor, reason: 'A question about crossings' },
    )
  const day = new Date(at).toISOString().slice(0, 10)
  const archive = createArchive(database.$client)
  const frozen = await freezeView(
    { database, evidence: { ask: archive.answer } as never, siteId },
    { report: 'events', question: { from: day, to: day }, focus: null, place: 'recordings/question/question' },
    new Date(),
  )
  const [kept] = await database
    .insert(finding)
    .values({ siteId, title: 'A question', source: 'view', frozen, severity: 'low' } as never)
    .returning()
  expect(frozen.figures.map(({ label }) => label)).toContain('custom unheard-of')

  await eraseVisitor(database, siteId, null, 'question')
  await eraseVisitor(database, siteId, null, 'crossings')
  const [now] = await database.select().from(finding).where(eq(finding.id, kept!.id))
  expect(now!.frozen).toMatchObject({ question: { from: day, to: day }, place: 'recordings/erased/erased' })
  const labels = (now!.frozen as FrozenView).figures.map(({ label }) => label)
  expect(labels).toContain('custom common')
  expect(labels).not.toContain('custom unheard-of')
  expect(labels).toHaveLength(frozen.figures.length)
  const { rows: log } = await database.execute<{ after: object }>(sql`
    SELECT after FROM change_log WHERE site_id = ${siteId} AND action = 'left out' ORDER BY id`)
  expect(log.map(({ after }) => after)).toEqual(
    ['question', 'crossings'].map(() => ({
      kind: 'visitor',
      visitor: 'erased',
      reason: 'A question about crossings',
    })),
  )
})

test('what is kept of visitors goes when the site says, and stays while an experiment needs it', async () => {
  const team = await createTeam(database)
  const DAY = 86_400_000
  const old = Date.now() - 100 * DAY
  const running = await startedExperiment(
    database,
    team.site.id,
    old - DAY,
    primaryMetric('Back', 'mean', { type: 'visits' }),
  )
  const ended = await startedExperiment(
    database,
    team.site.id,
    old - DAY,
    primaryMetric('Back', 'mean', { type: 'visits' }),
  )
  await database.execute(
    sql`UPDATE experiment SET state = 'ended', ended_at = ${new Date(old + DAY).toISOString()} WHERE id = ${ended}`,
  )
  const exposed = (visitor: string, experiment: number): Happening => ({
    visitor,
    at: old,
    type: 'exposure',
    experiment,
    variant: 0,
  })
  await happen(database, team.site, [
    { visitor: 'passed-by', at: old },
    exposed('in-the-ended', ended),
    exposed('in-the-running', running),
    { visitor: 'came-lately', at: Date.now() - DAY },
  ])
  await folded(database, team.site.id)
  await database.execute(sql`UPDATE site SET retention_days = 60 WHERE id = ${team.site.id}`)
  await keepHouse(database, new Date())
  const kept = async (table: string, column: string) =>
    (
      await database.execute<{ id: string }>(
        sql.raw(`SELECT ${column} AS id FROM ${table} WHERE site_id = ${team.site.id} ORDER BY 1`),
      )
    ).rows.map(({ id }) => id)
  expect(await kept('visitor', 'id')).toEqual(['came-lately', 'in-the-ended', 'in-the-running'])
  expect(await kept('session', 'visitor_id')).toEqual(['came-lately', 'in-the-running'])
  expect(await kept('exposure', 'visitor_id')).toEqual(['in-the-ended', 'in-the-running'])
  await database.execute(
    sql`UPDATE experiment SET deleted_at = ${new Date(Date.now() - 31 * DAY).toISOString()} WHERE id = ${ended}`,
  )
  await keepHouse(database, new Date())
  await keepHouse(database, new Date())
  expect(await kept('visitor', 'id')).toEqual(['came-lately', 'in-the-running'])
  expect(await kept('exposure', 'visitor_id')).toEqual(['in-the-running'])
})
