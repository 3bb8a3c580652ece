import { randomBytes } from 'node:crypto'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test, vi } from 'vitest'
import { isInTest } from '../../core/assignment/assignment'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { DAY, HOUR } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { updateCollection } from '../../server/services/collection/collection'
import { ANSWERS } from '../../server/services/evidence/answers'
import { STATEMENTS } from '../../server/services/evidence/statements/statements'
import { readSiteVisits } from '../../server/services/evidence/siteVisits'
import { addNote } from '../../server/services/recordings/notes'
import { keptStyleSheet, recording as recordingTable, site as siteTable } from '../../server/database/schema'
import { keepWithinSize } from '../../server/intake/recordings/keepWithinSize'
import { writeChunk } from '../../server/intake/recordings/writeChunk'
import { keepStyleSheets, readKeptStyleSheet } from '../../server/services/recordings/styleSheets'
import { forgetRecordings, forgetRecordingsOf } from '../../server/services/recordings/forgetRecordings'
import { listRecordings, readRecordedEvents, readRecording } from '../../server/services/recordings/recordings'
import { LARGEST_RECORDING, LARGEST_UNPACKED, LARGEST_UNPACKED_RECORDING } from '../../shared/intake/record'
import { RECORDING_SALT } from '../../shared/delivery/siteFile'
import { folded, happen, type Happening } from '../arrivals'
import { collected } from '../collection'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { recordedChunk } from '../recordedChunk'
import { visitorId } from '../visitorId'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
afterAll(() => database.$client.end())

const BROWSER =
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36'
let team: Awaited<ReturnType<typeof createTeam>>
let count = 0

beforeAll(async () => {
  team = await createTeam(database)
  await updateCollection(database, team.site.id, null, collected({ recording: 10_000 }))
  for (const session of ['session-1', 'in-order', 'refused', 'robot-1', 'large', 'bomb', 'future', 'deep'])
    await happen(database, team.site, [viewed('visitor-recorded', session)])
})
/** A recording is taken of sessions with a page view. */
const viewed = (visitor: string, sessionId: string): Happening => ({
  visitor: visitorId(visitor),
  at: Date.now() - 20_000,
  view: { sessionId },
})

function chunk(changes: Record<string, unknown> = {}) {
  const at = Date.now() - 10_000
  const id = (offset: number) => timeOrderedId(at + offset, ++count, new Uint8Array(8))
  return {
    key: team.site.key,
    visitor: visitorId('visitor-recorded'),
    session: 'session-1',
    view: id(0),
    id: id(1),
    number: 0,

    first: at,
    last: at + 500,
    events: [{ type: 4, timestamp: at, data: { href: '//x/', width: 9, height: 9 } }],
    ...changes,
  }
}

async function send(body: Buffer | string, headers: Record<string, string> = {}, key = team.site.key) {
  const reply = await fetch(`${url}/record?key=${key}`, {
    method: 'POST',
    body: typeof body === 'string' ? body : new Uint8Array(body),
    headers: { 'content-type': 'text/plain', origin: team.site.address, 'user-agent': BROWSER, ...headers },
  })
  return { status: reply.status, text: await reply.text() }
}
const packed = (content: object) => gzipSync(JSON.stringify(content))

async function kept(session: string) {
  const { rows } = await database.execute<{ chunks: number; bytes: number; stored: number }>(sql`
    SELECT chunks, bytes::float8 AS bytes, (SELECT count(*)::int FROM recording_chunk c
      WHERE c.site_id = r.site_id AND c.visitor_id = r.visitor_id AND c.session_id = r.session_id) AS stored
    FROM recording r WHERE site_id = ${team.site.id} AND session_id = ${session}`)
  return rows[0] ?? null
}

test('chunks in any order, and twice, make one recording in its order', async () => {
  const at = Date.now() - 60_000
  const view = timeOrderedId(at, 0, new Uint8Array(8))
  const chunks = [0, 1, 2, 3].map((number) => {
    const from = at + number * 1000
    const events = [0, 1].map((step) => ({
      type: 3,
      timestamp: from + step * 100,
      data: { source: 3, step: number * 2 + step },
    }))
    return chunk({
      session: 'in-order',
      view,
      id: timeOrderedId(from, 0, new Uint8Array(8)),
      number,
      first: from,
      last: from + 100,
      events,
    })
  })
  for (const number of [2, 0, 3, 0, 1, 2]) {
    const content = chunks[number]!
    expect((await send(number % 2 ? JSON.stringify(content) : packed(content))).status).toBe(200)
  }
  expect(await kept('in-order')).toMatchObject({ chunks: 4, stored: 4 })
  const place = { siteId: team.site.id, visitor: visitorId('visitor-recorded'), visit: 'in-order' }
  const { events, next } = await readRecordedEvents(database, place, 0)
  expect(next).toBe(null)
  expect(events.map((event) => (event as { data: { step: number } }).data.step)).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
  // A longer one comes a stretch at a time, each chunk once.
  expect((await readRecordedEvents(database, place, 2)).events).toHaveLength(4)
})

test('what cannot be a chunk of this site is refused with a reason, and counted', async () => {
  const whole = packed(chunk({ session: 'refused' }))
  const cases: [string, Buffer | string, number, Record<string, string>?][] = [
    ['cut off', whole.subarray(0, whole.length - 9), 400],
    ['cut off inside', JSON.stringify(chunk({ session: 'refused' })).slice(0, -5), 400],
    ['of another site', whole, 403, { origin: 'https://elsewhere.example' }],
    ['of another site than its address', packed(chunk({ session: 'refused', key: 'nobody' })), 400],
    ['nested without end', `{"events":${'['.repeat(100_000)}`, 413],
    ['of no page view', packed(chunk({ session: 'unseen' })), 429],
    ['without events', packed(chunk({ session: 'refused', events: [] })), 400],
    ['with a strange session', packed(chunk({ session: '../refused' })), 400],
    ['with more than there is', packed({ ...chunk({ session: 'refused' }), more: 1 }), 400],
    ['that unpacks without end', gzipSync(Buffer.alloc(LARGEST_UNPACKED + 10)), 413],
    ['that is too large', Buffer.alloc(1024 * 1024 + 10, 65), 413],
    [
      'of long ago',
      packed(chunk({ session: 'refused', id: timeOrderedId(Date.now() - 9 * 86_400_000, 0, new Uint8Array(8)) })),
      403,
    ],
  ]
  for (const [name, body, status, headers] of cases)
    expect([name, (await send(body, headers)).status]).toEqual([name, status])
  expect(await kept('refused')).toBe(null)
  await expect
    .poll(
      async () =>
        (
          await database.execute(
            sql`SELECT 1 FROM refusal WHERE site_id = ${team.site.id} AND reason LIKE 'Recordings of this site%'`,
          )
        ).rows.length,
      { timeout: 60_000 },
    )
    .toBe(1)
})

test('nothing of a chunk is read before its key, its origin and what its network has sent are known', async () => {
  const rubbish = Buffer.from('[[[')
  expect((await send(rubbish, {}, 'nobody')).status).toBe(404)
  expect((await send(rubbish, {}, 'no%00body')).status).toBe(400)
  expect((await send(rubbish, { origin: 'https://elsewhere.example' })).text).toContain('from its own pages only')
  const silent = await createTeam(database)
  const answer = await send(rubbish, { origin: silent.site.address }, silent.site.key)
  expect(answer.text).toContain('This site records nobody')
})

test('chunks that unpack to much hold nobody up: others are answered at once, and what is kept is bounded', async () => {
  const nested = gzipSync(`{"events":${'['.repeat(LARGEST_UNPACKED - 100)}`)
  const many = gzipSync(
    JSON.stringify(
      chunk({ session: 'bomb', events: Array(20_000).fill({ type: 3, timestamp: 1, data: 'x'.repeat(99) }) }),
    ),
  )
  expect(nested.length).toBeLessThan(10_000)
  const pings: number[] = []
  let isOver = false
  const pinging = (async () => {
    while (!isOver) {
      const began = performance.now()
      await (await fetch(`${url}/s/${team.site.key}.json`)).text()
      pings.push(performance.now() - began)
    }
  })()
  const statuses = await Promise.all([...Array(10)].flatMap(() => [send(nested), send(many)]))
  isOver = true
  await pinging
  expect(new Set(statuses.map(({ status }) => status))).toEqual(new Set([413, 200]))
  // Each of them alone took the process longer than this.
  expect(Math.max(...pings)).toBeLessThan(1000)
  // The same again and again is one.
  expect(await kept('bomb')).toMatchObject({ chunks: 1 })
})

test('a long recording is read so much at a time, whatever its chunks unpack to', async () => {
  const at = Date.now() - 60_000
  const large = () =>
    chunk({ session: 'deep', events: Array(9000).fill({ type: 3, timestamp: at, data: 'x'.repeat(200) }) })
  for (let times = 0; times < 5; times++) expect((await send(packed(large()))).status).toBe(200)
  const place = { siteId: team.site.id, visitor: visitorId('visitor-recorded'), visit: 'deep' }
  const stretches: number[] = []
  for (let next: number | null = 0; next !== null;) {
    const read = await readRecordedEvents(database, place, next)
    stretches.push(read.events.length)
    next = read.next
  }
  expect(stretches).toEqual([9000, 9000, 9000, 9000, 9000])
  await database.execute(sql`UPDATE recording SET unpacked = ${LARGEST_UNPACKED_RECORDING} WHERE session_id = 'deep'`)
  expect((await send(packed(large()))).text).toContain('as large as it may be')
})

test('a recording that says it is of another time is listed when it came, and pushes none out', async () => {
  const own = await createTeam(database)
  const settings = collected({ recording: 10_000 })
  const recording = { ...settings.recording, megabytes: 10 }
  await updateCollection(database, own.site.id, null, { ...settings, recording })
  const row = (session: string, at: number, network: string): Promise<unknown> =>
    writeChunk(database.$client, {
      ...recordedChunk(own.site.id, visitorId(session), session, at, [{ type: 4, timestamp: at }]),
      receivedAt: new Date(),
      network,
      content: gzipSync(randomBytes(600_000)),
    })
  const sessions = ['real-1', 'real-2', 'forged-1', 'forged-2', 'forged-3']
  await happen(
    database,
    own.site,
    sessions.map((session) => viewed(session, session)),
  )
  expect(await row('real-1', Date.now() - 5000, 'home')).toBe('kept')
  expect(await row('real-2', Date.now() - 5000, 'office')).toBe('kept')
  expect(await row('forged-1', Date.UTC(6429, 0), 'stranger')).toBe('kept')
  // A tenth of what the site keeps is what one network may bring.
  expect(await row('forged-2', Date.UTC(6429, 0), 'stranger')).toBe('crowded')
  expect(await row('unseen-1', Date.now(), 'stranger')).toBe('early')
  const { rows } = await database.execute(sql`
    SELECT session_id AS session FROM recording WHERE site_id = ${own.site.id} AND listed_at <= now() ORDER BY 1`)
  expect(rows.map(({ session }) => session)).toEqual(['forged-1', 'real-1', 'real-2'])
  // What is too much goes by when it came: the one that came first, whatever the others say.
  await database.execute(
    sql`UPDATE recording SET bytes = 4000000, received_at = received_at + CASE session_id WHEN 'real-2' THEN interval '1 minute' ELSE interval '0' END
    WHERE site_id = ${own.site.id}`,
  )
  const forget = vi.fn((siteId: number) => forgetRecordingsOf(database, siteId, new Date()))
  const noteKept = keepWithinSize(forget, () => false, 1)
  for (let times = 0; times < 5; times++) noteKept(own.site.id)
  await expect.poll(() => database.$count(recordingTable, eq(recordingTable.siteId, own.site.id))).toBe(2)
  expect(forget).toHaveBeenCalledTimes(1)
  const left = await database.execute(sql`SELECT session_id AS session FROM recording WHERE site_id = ${own.site.id}`)
  expect(left.rows.map(({ session }) => session)).toContain('real-2')
})

test('only the share of the visitors is recorded, robots never, and a session only so large', async () => {
  const half = await createTeam(database)
  await updateCollection(database, half.site.id, null, collected({ recording: 5000 }))
  const outside = [...Array(50).keys()]
    .map((index) => visitorId(`visitor-${index}`))
    .find((visitor) => !isInTest(visitor, { salt: RECORDING_SALT, share: 5000 }))!
  const other = packed(chunk({ key: half.site.key, visitor: outside }))
  const asked = await send(other, { origin: half.site.address }, half.site.key)
  expect(asked.text).toContain('not among those')
  expect(
    await send(packed(chunk({ session: 'robot-1' })), { 'user-agent': 'harborbot/1.0 (+https://robot.example/bot)' }),
  ).toMatchObject({
    status: 200,
    text: expect.stringContaining('false') as string,
  })
  expect(await kept('robot-1')).toBe(null)
  await send(packed(chunk({ session: 'large' })))
  await database.execute(sql`UPDATE recording SET bytes = ${LARGEST_RECORDING - 5} WHERE session_id = 'large'`)
  expect((await send(packed(chunk({ session: 'large' })))).text).toContain('as large as it may be')
})

test('style sheets of other hosts are kept as they were, as long as recordings are, and only those that pages name', async () => {
  const own = await createTeam(database)
  let says = 'h1 { color: red }'
  const asked: string[] = []
  const listen = async (answer: (path: string) => string) => {
    const server = createServer((request, reply) => {
      asked.push(request.url!)
      reply.writeHead(request.url === '/gone.css' ? 404 : 200).end(answer(request.url!))
    })
    await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening))
    return { server, origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}` }
  }
  const other = await listen(() => says)
  const pages = await listen(
    () => `<link rel="stylesheet" href="/own.css"><link rel=stylesheet href="${other.origin}/a.css">
      <link rel="stylesheet" href="${other.origin}/gone.css"><link rel="icon" href="${other.origin}/icon.png">`,
  )
  await database.update(siteTable).set({ address: pages.origin }).where(eq(siteTable.id, own.site.id))
  await happen(database, { ...own.site, address: pages.origin }, [viewed('visitor-seen', 'seen')])
  const keepAt = (hour: number, trusted = [pages.origin, other.origin]) =>
    keepStyleSheets(database, own.site.id, new Date(Date.now() + hour * HOUR), trusted)
  const readAt = (hour: number, name = 'a', id = own.site.id) =>
    readKeptStyleSheet(database, id, `${other.origin}/${name}.css`, new Date(Date.now() + hour * HOUR)).then(
      ({ content }) => content,
      (error: Error) => error.message,
    )
  // Nothing that lies on a private address is fetched, unless it is trusted.
  await keepAt(0, [pages.origin])
  expect(await readAt(0)).toBe('Vetch has no copy of this style sheet.')
  await keepAt(0)
  says = 'h1 { color: blue }'
  await keepAt(2)
  await keepAt(3)
  expect([await readAt(-5), await readAt(1), await readAt(2.5), await readAt(9)]).toEqual(
    ['red', 'red', 'blue', 'blue'].map((color) => `h1 { color: ${color} }`),
  )
  expect([await readAt(0, 'gone'), await readAt(0, 'a', team.site.id)]).toEqual(
    Array(2).fill('Vetch has no copy of this style sheet.'),
  )
  expect(asked).not.toContain('/own.css')
  expect(asked).not.toContain('/icon.png')
  const { days } = collected({ recording: 10_000 }).recording
  await forgetRecordingsOf(database, own.site.id, new Date(Date.now() + days * DAY + 1 * HOUR))
  expect(await readAt(0)).toBe('h1 { color: blue }')
  await forgetRecordingsOf(database, own.site.id, new Date(Date.now() + days * DAY + 4 * HOUR))
  expect(await readAt(0)).toBe('Vetch has no copy of this style sheet.')

  // One that says something else each time, with what no database keeps, fills no disk.
  for (let hour = 4; hour < 106; hour++) {
    says = `h1 { order: ${hour}\0 }`
    await keepAt(hour)
  }
  const copies = await database.$count(keptStyleSheet, eq(keptStyleSheet.siteId, own.site.id))
  expect([copies, await readAt(200), await readAt(0)]).toEqual([100, 'h1 { order: 105 }', 'h1 { order: 6 }'])
  other.server.close()
  pages.server.close()
})

test('recordings are found by what happened in them, and read with the moments of the visit', async () => {
  const own = await createTeam(database)
  await updateCollection(database, own.site.id, null, collected({ recording: 10_000 }))
  const at = Date.now() - 3_600_000
  const visits: [string, Happening['events']][] = [
    ['raging', [{ type: 'rage', at: at + 5000, element: 'body>h1', properties: { clicks: 4 } }]],
    ['broken', [{ type: 'error', at: at + 9000, name: 'It broke' }]],
    [
      'left-form',
      [
        {
          type: 'field',
          at: at + 9000,
          element: 'body>form>input',
          name: 'length',
          properties: { form: 'f', time: 5, hesitation: null, isBlank: true, isRefill: false },
        },
      ],
    ],
    ['quick', [{ type: 'click', at: at + 1000, element: 'body>a#fares:nth-child(3)', label: 'See the Fares' }]],
  ]
  for (const [session, events] of visits) {
    await happen(database, own.site, [
      {
        visitor: visitorId(`visitor-${session}`),
        at,
        path: '/book',
        view: { sessionId: session, device: session === 'quick' ? 'desktop' : 'phone' },
        events,
      },
    ])
    await send(
      packed(
        chunk({
          key: own.site.key,
          visitor: visitorId(`visitor-${session}`),
          session,
          first: at + 100,
          last: at + 9000,
        }),
      ),
      { origin: own.site.address },
      own.site.key,
    )
  }
  await folded(database, own.site.id)
  const site = await readSiteVisits(database.$client, own.site.id, null)
  const source = { pool: database.$client, siteId: own.site.id, site }
  const evidence = { ask: (_site: number, ask: 'strips', question: never) => ANSWERS[ask](source, question) } as never
  const day = new Date(at).toISOString().slice(0, 10)
  const range = { from: day, to: new Date().toISOString().slice(0, 10), seconds: 0 }
  const found = async (query: object) =>
    (await listRecordings(database, evidence, own.site.id, { ...range, ...query })).recordings
      .map(({ session }) => session)
      .sort()
  expect(await found({})).toEqual(['broken', 'left-form', 'quick', 'raging'])
  expect(await found({ happened: 'rage' })).toEqual(['raging'])
  expect(await found({ happened: 'error' })).toEqual(['broken'])
  expect(await found({ happened: 'left-form' })).toEqual(['left-form'])
  expect(await found({ happened: 'error,rage' })).toEqual([])
  expect(await found({ seconds: 8 })).toEqual(['broken', 'left-form'])
  expect(await found({ segment: 'device:desktop' })).toEqual(['quick'])
  expect(await found({ page: 'is:/nowhere' })).toEqual([])
  expect(await found({ clicked: 'see the fares' })).toEqual(['quick'])
  expect(await found({ clicked: '#fares' })).toEqual(['quick'])
  expect(await found({ clicked: 'timetable' })).toEqual([])
  // Its statement finds the same.
  for (const query of [{ happened: 'rage' }, { happened: 'left-form' }, { seconds: 8 }, { clicked: 'see the fares' }]) {
    const statement = await STATEMENTS.recordings(source, { ...range, ...query })
    const { rows } = await database.$client.query<{ session: string }>(statement)
    expect(rows.map(({ session }) => session).sort()).toEqual(await found(query))
  }
  // Those who left a way after its first step.
  const steps = ['/book', '/book/pay'].map((value) => ({
    name: value,
    source: { type: 'visit', page: { match: 'exact', value } },
  }))
  const plan = JSON.stringify({ steps, isStrict: false, limitMinutes: null, isWithinSession: true })
  expect(await found({ plan, left: 0 })).toEqual(['broken', 'left-form', 'quick', 'raging'])
  expect(await found({ plan, left: 1 })).toEqual([])
  const place = { siteId: own.site.id, visitor: visitorId('visitor-raging'), visit: 'raging' }
  await addNote(database, place, null, { moment: 4000, words: 'Here' })
  const recording = await readRecording(database, evidence, place)
  expect(recording).toMatchObject({ began: at + 100, length: 8900, notes: [{ moment: 4000, words: 'Here' }] })
  expect(recording.strip.marks).toEqual([{ at: 5000, kind: 'rage', words: 'heading' }])

  // The night takes what is too old, and the oldest of what is too large.
  const megabytes = 10
  const settings = collected({ recording: 10_000 })
  await updateCollection(database, own.site.id, null, { ...settings, recording: { ...settings.recording, megabytes } })
  await database.execute(sql`UPDATE recording SET bytes = 4000000 WHERE site_id = ${own.site.id}`)
  await database.execute(
    sql`UPDATE recording SET received_at = now() WHERE site_id = ${own.site.id} AND session_id <> 'broken'`,
  )
  await database.execute(
    sql`UPDATE recording SET received_at = now() - interval '40 days' WHERE site_id = ${own.site.id} AND session_id = 'quick'`,
  )
  await forgetRecordings(database, new Date())
  expect(await found({})).toEqual(['left-form', 'raging'])
  const { rows } = await database.execute(
    sql`SELECT DISTINCT session_id FROM recording_chunk WHERE site_id = ${own.site.id}`,
  )
  expect(rows).toHaveLength(2)
})
