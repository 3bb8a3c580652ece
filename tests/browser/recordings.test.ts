import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { recordedChunk } from '../recordedChunk'
import { readFile } from 'node:fs/promises'
import { expect, type Page, type Request } from '@playwright/test'
import { eq, sql } from 'drizzle-orm'
import { keptStyleSheet } from '../../server/database/schema'
import { updateCollection } from '../../server/services/collection/collection'
import { readRecordedEvents } from '../../server/services/recordings/recordings'
import { keepStyleSheets } from '../../server/services/recordings/styleSheets'
import { writeChunk } from '../../server/intake/recordings/writeChunk'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen } from '../arrivals'
import { collected } from '../collection'
import { createTeam, type Team } from './team'
import { decided, newVisitor, reported } from './visitor'
import { test, type World } from './world'

async function recordedTeam(world: World, name: string, masksText = false): Promise<Team> {
  const team = await createTeam(world, name)
  await updateCollection(
    world.database,
    team.siteId,
    null,
    collected({ behavior: 10_000, recording: 10_000, masksText }),
  )
  await world.serveDemo({ scriptLine: scriptLine(world.url, team.siteKey) })
  return team
}

/** Waits until nothing that was recorded is left in the browser. */
const isRecorded = (page: Page) =>
  expect
    .poll(() =>
      page.evaluate(async () => {
        const names = (await indexedDB.databases()).map(({ name }) => name!).filter((name) => /recording/.test(name))
        const counts = names.map(
          (name) =>
            new Promise<number>((done) => {
              const request = indexedDB.open(name)
              request.onsuccess = () => {
                const count = request.result.transaction('chunks').objectStore('chunks').count()
                count.onsuccess = () => (done(count.result), request.result.close())
              }
            }),
        )
        return names.length === 0 ? -1 : (await Promise.all(counts)).reduce((sum, each) => sum + each, 0)
      }),
    )
    .toBe(0)

async function recordings(world: World, siteId: number) {
  const { rows } = await world.database.execute<{ visitor: string; visit: string; chunks: number }>(
    sql`SELECT visitor_id AS visitor, session_id AS visit, chunks FROM recording WHERE site_id = ${siteId} ORDER BY started_at`,
  )
  return rows
}
async function recordedText(world: World, siteId: number): Promise<string> {
  let text = ''
  for (const { visitor, visit } of await recordings(world, siteId))
    for (let after: number | null = 0; after !== null;) {
      const { events, next } = await readRecordedEvents(world.database, { siteId, visitor, visit }, after)
      text += JSON.stringify(events)
      after = next
    }
  return text
}

const isChunk = (request: Request) => request.url().includes('/record?')
/** Waits until a piece of the recording has been taken. */
const chunkSent = (visitor: Page) => visitor.waitForResponse((reply) => isChunk(reply.request()) && reply.ok())

test('a session is recorded across pages without what was typed, survives a lost connection, and is played', async ({
  world,
  browser,
  page,
}) => {
  const team = await recordedTeam(world, 'recorded')
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await visitor.setViewportSize({ width: 390, height: 700 })
  await visitor.goto(`${world.demoOrigin}/book`)
  await visitor.waitForFunction(() =>
    performance.getEntriesByType('resource').some(({ name }) => /kind=recording/.test(name)),
  )
  await visitor.getByLabel('Day').pressSequentially('06172027')
  await visitor.getByLabel(/Length of the vehicle/).pressSequentially('4711.2599', { delay: 20 })
  await visitor.locator('h1').click()
  await chunkSent(visitor)
  // For a while nothing gets through; the page is left meanwhile.
  await context.route('**/record?**', (route) => route.abort())
  const lost = visitor.waitForEvent('requestfailed', isChunk)
  await visitor.getByLabel('Adults').fill('7')
  await lost
  await visitor.getByRole('button', { name: 'Go on' }).click()
  await visitor.getByLabel('Name').waitFor()
  await context.unroute('**/record?**')
  await visitor.getByLabel('Name').fill('Xanthippe Unmistakable')
  await visitor.getByRole('button', { name: 'Go on to payment' }).click()
  await chunkSent(visitor)
  await visitor.goto(`${world.demoOrigin}/help`)
  // What is sent meanwhile may still be of the page before.
  await expect.poll(() => recordedText(world, team.siteId)).toContain('What about animals?')
  await reported(visitor)
  await isRecorded(visitor)
  await context.close()
  await folded(world.database, team.siteId)

  const text = await recordedText(world, team.siteId)
  for (const typed of ['4711', '06172027', '2027-06-17', 'Xanthippe', 'Unmistakable']) expect(text).not.toContain(typed)
  for (const seen of ['Book a crossing', 'Who travels?', '•••']) expect(text).toContain(seen)
  // The hidden fields of later steps hand on what was typed before, and so do their addresses.
  expect(text).not.toContain('vehicle=car')

  await team.signIn(page, 'editor', 'evidence/recordings?days=7')
  await expect(page.getByRole('row')).toHaveCount(2)
  await page.getByRole('button', { name: 'More filters' }).click()
  await page.getByLabel('rage click').check()
  await expect(page.getByText('None of the 1 recordings of these days matches.')).toBeVisible()
  await page.getByLabel('rage click').uncheck()
  await page.getByLabel('dead click').check()
  await page.getByRole('row').nth(1).getByRole('link').click()
  const stage = page.frameLocator('[data-testid=replay] iframe')
  await expect(stage.getByRole('heading', { name: 'Book a crossing' })).toBeVisible()
  await page.getByRole('button', { name: 'opened /book/travelers' }).click()
  await expect(stage.getByRole('heading', { name: 'Who travels?' })).toBeVisible()
  await page.getByLabel('At 0:').fill('They hesitate here')
  await page.getByRole('button', { name: 'Add the note' }).click()
  await expect(page.getByText('They hesitate here')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('heading', { name: 'Notes' }).click()
  await page.keyboard.press('p')
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
  await page.keyboard.press('p')
  // A link leads to a moment.
  const address = new URL(page.url())
  address.searchParams.set('t', '0')
  await page.goto(address.href)
  await expect(stage.getByRole('heading', { name: 'Book a crossing' })).toBeVisible()
})

test('a page whose style sheet is on another host is played as it looked', async ({ world, browser, page }) => {
  const team = await recordedTeam(world, 'styled')
  const other = createServer((_request, reply) =>
    reply.writeHead(200, { 'content-type': 'text/css' }).end('h1 { color: rgb(1, 2, 3) }'),
  )
  await new Promise<void>((listening) => other.listen(0, '127.0.0.1', listening))
  const otherOrigin = `http://127.0.0.1:${(other.address() as AddressInfo).port}`
  const links = ['look', 'gone'].map((name) => `<link rel="stylesheet" href="${otherOrigin}/${name}.css">`).join('')
  const html = `<!doctype html><html><head>${scriptLine(world.url, team.siteKey)}${links}</head><body><h1>Boats</h1></body></html>`
  await world.serve(createServer((_request, reply) => reply.writeHead(200, { 'content-type': 'text/html' }).end(html)))
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await visitor.goto(world.demoOrigin)
  await chunkSent(visitor)
  await reported(visitor)
  await isRecorded(visitor)
  await context.close()
  await folded(world.database, team.siteId)
  expect(await recordedText(world, team.siteId)).not.toContain('rgb(1, 2, 3)')
  await keepStyleSheets(world.database, team.siteId, new Date(), [world.demoOrigin, otherOrigin])
  await world.database.delete(keptStyleSheet).where(eq(keptStyleSheet.address, `${otherOrigin}/gone.css`))
  other.close()

  await team.signIn(page, 'viewer', 'evidence/recordings?days=7')
  await page.getByRole('row').nth(1).getByRole('link').click()
  const heading = page.frameLocator('[data-testid=replay] iframe').getByRole('heading', { name: 'Boats' })
  await expect(heading).toHaveCSS('color', 'rgb(1, 2, 3)')
  await expect(page.getByText('A style sheet of another host is missing. The page may look different.')).toBeVisible()
})

test('texts are masked where the site says so, and nobody is recorded against their browser’s signal', async ({
  world,
  browser,
}) => {
  const team = await recordedTeam(world, 'masked', true)
  const quiet = await newVisitor(browser)
  await quiet.addInitScript(() => Object.defineProperty(navigator, 'globalPrivacyControl', { value: true }))
  const unseen = await quiet.newPage()
  await unseen.goto(`${world.demoOrigin}/help`)
  await decided(unseen)
  expect(await unseen.evaluate(() => document.querySelectorAll('script[src*="recorder"]').length)).toBe(0)
  await quiet.close()
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await visitor.goto(`${world.demoOrigin}/help`)
  await visitor.waitForFunction(() =>
    performance.getEntriesByType('resource').some(({ name }) => /kind=recording/.test(name)),
  )
  await chunkSent(visitor)
  await isRecorded(visitor)
  await context.close()
  const text = await recordedText(world, team.siteId)
  expect(text).toContain('"tagName":"h1"')
  for (const shown of ['animals', 'quay', 'Timetable']) expect(text).not.toContain(shown)
  expect((await recordings(world, team.siteId)).length).toBe(1)
})

test('a recording that brings scripts runs none of them in the player, and asks nobody for anything', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'hostile')
  const at = Date.now() - 60_000
  const session = { visitor: 'visitor-hostile', at, path: '/', view: { sessionId: 'hostile' } }
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, [session])
  await folded(world.database, team.siteId)
  const run = `fetch('/api/account').then(() => parent.ranHere = true); parent.ranHere = true; top.ranHere = true`
  const element = (tagName: string, attributes: object, childNodes: object[] = [], id = 10) => ({
    type: 2,
    tagName,
    attributes,
    childNodes,
    id,
  })
  const body = element(
    'body',
    { onload: run },
    [
      element('script', {}, [{ type: 3, textContent: run, id: 21 }], 20),
      element('img', { src: 'x:', onerror: run }, [], 22),
      element('iframe', { src: `javascript:${run}`, srcdoc: `<script>${run}</script>` }, [], 23),
      element('a', { href: `javascript:${run}`, onclick: run }, [{ type: 3, textContent: 'Click', id: 25 }], 24),
      element('svg', { onload: run }, [], 26),
      element('iframe', { src: `${world.demoOrigin}/asked-by-frame` }, [], 27),
      element('link', { rel: 'prefetch', href: `${world.demoOrigin}/asked-by-link` }, [], 28),
    ],
    9,
  )
  const events = [
    { type: 4, timestamp: at, data: { href: '//x/', width: 400, height: 300 } },
    {
      type: 2,
      timestamp: at + 1,
      data: {
        initialOffset: { left: 0, top: 0 },
        node: { type: 0, id: 1, childNodes: [element('html', {}, [element('head', {}, [], 8), body], 7)] },
      },
    },
    { type: 3, timestamp: at + 2000, data: { source: 3, id: 1, x: 0, y: 0 } },
  ]
  expect(
    await writeChunk(world.database.$client, recordedChunk(team.siteId, 'visitor-hostile', 'hostile', at, events)),
  ).toBe('kept')
  const asked: string[] = []
  page.on('request', (request) => asked.push(request.url()))
  await team.signIn(page, 'viewer', 'evidence/recordings/visitor-hostile/hostile')
  const stage = page.frameLocator('[data-testid=replay] iframe').first()
  await expect(stage.getByText('Click')).toBeAttached()
  await page.getByRole('button', { name: 'Play' }).click()
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible()
  expect(await page.evaluate(() => 'ranHere' in window)).toBe(false)
  expect(asked.filter((address) => address.startsWith(world.demoOrigin))).toEqual([])
  expect(await page.locator('[data-testid=replay] iframe').first().getAttribute('sandbox')).toBe('allow-same-origin')
  await expect(page.getByRole('button', { name: 'Delete' })).toHaveCount(0)
})

test('what a page hands on in addresses and repeats of what is typed does not leave the browser', async ({
  world,
  browser,
}) => {
  const team = await recordedTeam(world, 'handing-on')
  const head = scriptLine(world.url, team.siteKey)
  const html = `<!doctype html><head>${head}</head><h1>Seen</h1>
    <a href="/next?email=QUERYLINK#HASHLINK">Next</a><a href="mailto:MAILTO@visitor.example">Mail</a>
    <form action="/send?tok=QUERYACTION"><input id="name"><input type="radio" name="r" id="radio" value="CHOSENVALUE">
    </form><img src="/boat.png?who=QUERYIMAGE" srcset="/a.png?w=QUERYSET 2x"><div id="mirror">Mirror</div>
    <script>document.querySelector('#name').oninput = ({ target }) => { mirror.dataset.typed = 'x ' + target.value
      const link = document.createElement('a'); link.href = '/later?n=QUERYLATER'; link.title = target.value; mirror.append(link) }</script>`
  await world.serve(createServer((_, reply) => reply.setHeader('content-type', 'text/html').end(html)))
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await visitor.goto(`${world.demoOrigin}/hands-on`)
  await visitor.waitForFunction(() =>
    performance.getEntriesByType('resource').some(({ name }) => /kind=recording/.test(name)),
  )
  await visitor.locator('#name').pressSequentially('TYPEDNAME')
  await visitor.locator('#radio').check()
  await visitor.locator('h1').click()
  await chunkSent(visitor)
  await isRecorded(visitor)
  await context.close()
  const text = await recordedText(world, team.siteId)
  for (const kept of ['Seen', '/next', 'mailto:', '/boat.png', '/later']) expect(text).toContain(kept)
  expect(text.match(/QUERY\w+|HASHLINK|MAILTO|CHOSENVALUE|TYPEDN\w*|visitor\.example/g)).toBe(null)
})

test('what was recorded and not sent is forgotten when consent is withdrawn', async ({ world, browser }) => {
  await recordedTeam(world, 'withdrawn')
  const context = await newVisitor(browser)
  await context.route('**/record?**', (route) => route.abort())
  const visitor = await context.newPage()
  await visitor.goto(`${world.demoOrigin}/book`)
  const kept = () =>
    visitor.evaluate(
      async () => (await indexedDB.databases()).filter(({ name }) => /recording/.test(name ?? '')).length,
    )
  await expect.poll(kept).toBe(1)
  const lost = visitor.waitForEvent('requestfailed', isChunk)
  await visitor.getByLabel('Adults').fill('3')
  await lost
  await visitor.evaluate(() => (window as unknown as { vetch: object[] }).vetch.push({ consent: false }))
  await expect.poll(kept).toBe(0)
  await context.unroute('**/record?**')
  await visitor.goto(`${world.demoOrigin}/help`)
  await decided(visitor)
  expect(await kept()).toBe(0)
  await context.close()
})

test('an owner hands out what is kept of a visitor, and erases it', async ({ world, browser, page }) => {
  const team = await recordedTeam(world, 'one-visitor')
  const context = await newVisitor(browser)
  const visitor = await context.newPage()
  await visitor.goto(`${world.demoOrigin}/book`)
  await chunkSent(visitor)
  await reported(visitor)
  const id = (await context.cookies()).find(({ name }) => name === 'vetch_visitor')!.value
  await context.close()
  await folded(world.database, team.siteId)

  await team.signIn(page, 'owner', 'setup/collection')
  const field = page.getByLabel('Id of the visitor')
  await field.fill('no id')
  await page.getByRole('button', { name: 'Export' }).click()
  await expect(page.getByText('Type the id as it stands in the cookie')).toBeVisible()
  await field.fill(id)
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export' }).click(),
  ])
  const text = await readFile((await file.path())!, 'utf8')
  expect(text).toContain('/book')
  await page.getByRole('button', { name: 'Erase …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Erase', exact: true }).click()
  await expect(page.getByText(/^Erased \d+ entries\.$/)).toBeVisible()
  for (const table of ['page_view', 'event', 'visitor', 'recording', 'recording_chunk']) {
    const { rows } = await world.database.execute<{ count: number }>(
      sql`SELECT count(*)::int AS count FROM ${sql.raw(table)} WHERE site_id = ${team.siteId}`,
    )
    expect([table, rows[0]!.count]).toEqual([table, 0])
  }
  await field.fill(id)
  await page.getByRole('button', { name: 'Export' }).click()
  await expect(page.getByText('Nothing is kept of a visitor with this id.')).toBeVisible()
})
