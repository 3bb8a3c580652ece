import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { dayAfter } from '../../core/time/siteDay'
import { ANSWERS } from '../../server/services/evidence/answers'
import { readSiteVisits } from '../../server/services/evidence/siteVisits'
import { addAttachment, readAttachment, typeOf } from '../../server/services/attachments'
import {
  createFinding,
  deleteFinding,
  findFinding,
  listFindings,
  mergeFinding,
  updateFinding,
} from '../../server/services/findings/findings'
import { askAgain, freezeView } from '../../server/services/findings/frozenView'
import { photographElement, photographWhole } from '../../server/services/pictures/photographPage'
import { readFile } from 'node:fs/promises'
import { LARGEST_ATTACHMENT } from '../../shared/findings/finding'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen, type Happening } from '../arrivals'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 3)
afterAll(() => database.$client.end())
let team: Awaited<ReturnType<typeof createTeam>>
let editor: Awaited<ReturnType<typeof callerOf>>

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
const input = (changes: object = {}) => ({
  title: 'Phones leave at the length',
  words: '',
  severity: 'high' as const,
  tags: ['phone'],
  page: '/book',

  frozen: null,
  pin: null,
  ...changes,
})

beforeAll(async () => {
  team = await createTeam(database)
  editor = await callerOf(url, team.emails.editor)
})

/** Sessions on a page, of which some go no further. */
function sessions(name: string, day: string, count: number, bounced: number): Happening[] {
  return Array.from({ length: count }, (_, index) => {
    const at = Date.parse(`${day}T12:00:00Z`) + index * 60_000
    const visit = { visitor: `${name}-${index}`, view: { sessionId: `${name}-${index}` } }
    const first = { ...visit, at, path: '/book' }
    return index < bounced ? [first] : [first, { ...visit, at: at + 9000, path: '/book/pay' }]
  }).flat()
}

test('a frozen view keeps its figures, and says whether they still hold', async () => {
  const today = new Date().toISOString().slice(0, 10)
  const [early, late] = [dayAfter(today, -60), dayAfter(today, -1)]
  await happen(database, team.site, [...sessions('early', early, 60, 15), ...sessions('late', late, 60, 45)])
  await folded(database, team.site.id)
  const site = await readSiteVisits(database.$client, team.site.id, null)
  const evidence = {
    ask: (siteId: number, ask: 'pages', question: never) =>
      ANSWERS[ask]({ pool: database.$client, siteId, site }, question),
  } as never
  const place = { database, evidence, siteId: team.site.id }
  const question = { from: dayAfter(early, -3), to: dayAfter(early, 3) }
  const frozen = await freezeView(
    place,
    { report: 'pages', question, focus: '/book', place: 'pages?days=7' },
    new Date(),
  )
  const bounces = frozen.figures.find(({ key }) => key === 'bounces')
  expect(bounces).toMatchObject({ kind: 'share', count: 15, of: 60 })
  const made = await createFinding(database, team.site.id, null, input({ frozen }))
  expect(made).toMatchObject({ source: 'view', state: 'open' })

  const kept = (await findFinding(database, team.site.id, made.id)).frozen!
  const now = await askAgain(place, kept, new Date())
  expect(now).toMatchObject({ from: dayAfter(today, -6), to: today, isLater: true })
  const of = (key: string) => now.changes.find((each) => each.key === key)!
  expect(of('bounces')).toMatchObject({ now: { count: 45, of: 60 }, isDifferent: true })
  expect(of('entries')).toMatchObject({ isDifferent: false })
  // Days that overlap are no later look.
  const recent = { ...kept, question: { from: dayAfter(today, -8), to: dayAfter(today, -2) } } as typeof kept
  expect(await askAgain(place, recent, new Date())).toMatchObject({ isLater: false })
  await deleteFinding(database, { siteId: team.site.id, findingId: made.id, personId: null })
})

test('findings are searched in all their words, filtered, and merged with what was said before', async () => {
  const siteId = team.site.id
  const make = (changes: object) => createFinding(database, siteId, null, input(changes))
  const first = await make({ title: 'Dogs are asked for', tags: ['survey'], page: '/crossings/torrin' })
  const second = await make({ title: 'Nobody finds the page on 100% dogs', words: 'Seen twice.' })
  const third = await make({ title: 'Fares lie low', tags: ['fares', 'phone'] })
  const found = async (query: object) => (await listFindings(database, siteId, query)).findings.map(({ id }) => id)
  expect(await found({ search: 'dogs page' })).toEqual([second.id])
  expect(await found({ search: '100%' })).toEqual([second.id])
  expect(await found({ search: '_' })).toEqual([])
  expect(await found({ tag: 'phone' })).toEqual([third.id, second.id])
  expect(await found({ page: '/crossings/torrin' })).toEqual([first.id])
  expect(await found({ source: 'view' })).toEqual([])

  const target = (findingId: number) => ({ siteId, findingId, personId: null })
  await mergeFinding(database, target(second.id), first.id)
  expect(await found({})).toEqual([third.id, first.id])
  // What was merged is found by the finding that it is merged into.
  expect(await found({ search: 'twice' })).toEqual([first.id])
  await mergeFinding(database, target(first.id), third.id)
  expect((await findFinding(database, siteId, third.id)).merged.map(({ id }) => id)).toEqual([first.id, second.id])
  await expect(mergeFinding(database, target(third.id), third.id)).rejects.toThrow('Choose another finding')
  await expect(mergeFinding(database, target(third.id), first.id)).rejects.toThrow('Choose another finding')
  await mergeFinding(database, target(second.id), null)
  expect(await found({})).toEqual([third.id, second.id])

  const { version } = await findFinding(database, siteId, third.id)
  const change = { ...input({ title: 'Fares lie too low' }), state: 'taken up' as const, version }
  await updateFinding(database, target(third.id), change)
  await expect(updateFinding(database, target(third.id), change)).rejects.toThrow('Somebody else has changed')
})

test('files are taken for what they hold, not for what they are called', async () => {
  expect(await typeOf(PNG)).toBe('image/png')
  expect(await typeOf(Buffer.from('Notes of a test: “hello”'))).toBe('text/plain')
  expect(await typeOf(Buffer.from('%PDF-1.7\n%âãÏÓ\n'))).toBe('application/pdf')
  for (const bad of [Buffer.from([0x4d, 0x5a, 0, 1, 2]), Buffer.from([0xff, 0xfe, 0xfd]), Buffer.alloc(0)])
    await expect(typeOf(bad)).rejects.toThrow('Attach a picture')
  const finding = await createFinding(database, team.site.id, null, input())
  const path = `/api/sites/${team.site.id}/findings/${finding.id}/attachments`
  const target = { siteId: team.site.id, findingId: finding.id, personId: null }
  const html = { name: 'x.png', content: Buffer.from('<script>alert(1)</script>'), isPicture: false }
  const script = await addAttachment(database, target, html)
  const picture = await addAttachment(database, target, { name: "It's.png", content: PNG, isPicture: true })
  await expect(addAttachment(database, target, { ...html, isPicture: true })).rejects.toThrow('no picture')
  await expect(
    addAttachment(database, target, { ...html, content: Buffer.alloc(LARGEST_ATTACHMENT + 1, 'a') }),
  ).rejects.toThrow('at most 5 MB')
  const headers = async (id: number) => {
    const reply = await editor('GET', `${path}/${id}`)
    return ['content-type', 'content-disposition', 'content-security-policy'].map((name) => reply.headers.get(name))
  }
  expect(await headers(script.id)).toEqual([
    'application/octet-stream',
    "attachment; filename*=UTF-8''x.png",
    "default-src 'none'; sandbox",
  ])
  expect((await headers(picture.id)).slice(0, 2)).toEqual(['image/png', "inline; filename*=UTF-8''It%27s.png"])
  expect((await readAttachment(database, team.site.id, { findingId: finding.id }, picture.id)).content).toEqual(PNG)
  await expect(readAttachment(database, team.site.id + 1, { findingId: finding.id }, picture.id)).rejects.toThrow(
    'does not exist',
  )
})

test('a picture of a page is taken by the server, which reaches no private address on the way', async () => {
  let secrets = 0
  const secret = createServer((_, response) => {
    secrets++
    response.end('secret')
  }).listen(0)
  const secretPort = (secret.address() as AddressInfo).port
  const page = createServer((request, response) => {
    if (request.url === '/away') response.writeHead(302, { location: `http://127.0.0.1:${secretPort}/` })
    else response.setHeader('content-type', 'text/html')
    if (request.url === '/blank') return response.end('<!doctype html>')
    if (request.url === '/hidden') response.write(scriptLine(`http://127.0.0.1:${secretPort}`, 'none'))
    response.end(`<!doctype html><h1 id="here">Here</h1><img src="http://127.0.0.1:${secretPort}/x.png">
      <script>fetch('http://127.0.0.1:${secretPort}/').catch(() => {}); new WebSocket('ws://127.0.0.1:${secretPort}/')</script>`)
  }).listen(0)
  const origin = `http://127.0.0.1:${(page.address() as AddressInfo).port}`
  const reach = { origins: [origin], privateHosts: [] }
  const blankLength = (await photographElement(`${origin}/blank`, { selector: 'body', width: 800 }, reach)).content
    .length
  const taken = await photographElement(`${origin}/`, { selector: '#here', width: 800 }, reach)
  expect(taken.isFound).toBe(true)
  // A page that the script line keeps hidden is seen all the same: it is not of one color.
  const hidden = await photographElement(`${origin}/hidden`, { selector: 'body', width: 800 }, reach)
  expect(hidden.content.length).toBeGreaterThan(blankLength * 1.2)
  expect(await typeOf(taken.content)).toBe('image/jpeg')
  expect((await photographElement(`${origin}/`, { selector: '#gone', width: 800 }, reach)).isFound).toBe(false)
  const whole = await photographWhole(`${origin}/`, 390, await readFile('.output/delivery/places.js', 'utf8'), reach)
  expect(await typeOf(whole.content)).toBe('image/jpeg')
  const [path, x, y, width, height] = whole.places.find(([each]) => each.includes('h1#here'))!
  expect([path, x, width]).toEqual(['body>h1#here:nth-child(1):nth-of-type(1)', 8, 390 - 16])
  expect(y).toBeGreaterThan(0)
  expect(height).toBeLessThan(100)
  await expect(photographElement(`${origin}/away`, { selector: 'body', width: 800 }, reach)).rejects.toThrow(
    'lies on the machine',
  )
  await expect(
    photographElement(`${origin}/`, { selector: 'body', width: 800 }, { origins: [], privateHosts: ['127.0.0.0/8'] }),
  ).rejects.toThrow('lies on the machine')
  expect(secrets).toBe(0)
  for (const server of [secret, page]) server.close().closeAllConnections()
})

test('a visitor who is erased is gone from findings too', async () => {
  const frozen = { report: 'recording' as const, question: {}, focus: null, place: 'recordings/visitor-gone/s?t=3' }
  const finding = await createFinding(
    database,
    team.site.id,
    null,
    input({ frozen: { ...frozen, figures: [], at: new Date().toISOString() } }),
  )
  await happen(database, team.site, [{ visitor: 'visitor-gone', at: Date.now() - DAY }])
  await folded(database, team.site.id)
  await (
    await callerOf(url, team.emails.owner)
  )('DELETE', `/api/sites/${team.site.id}/visitors/visitor-gone`)
  const { rows } = await database.execute<{ frozen: string }>(
    sql`SELECT frozen::text AS frozen FROM finding WHERE id = ${finding.id}`,
  )
  expect(rows[0]!.frozen).not.toContain('visitor-gone')
  expect(rows[0]!.frozen).toContain('recordings/erased/s')
})
