import { createServer } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { sql } from 'drizzle-orm'
import { FORMS } from '../../demo/visitors/elements'
import { BOXES } from '../../demo/visitors/places'
import { organisation } from '../../server/database/schema'
import { updateCollection } from '../../server/services/collection/collection'
import { createSite } from '../../server/services/sites/sites'
import type { CollectedEvent } from '../../shared/intake/collect'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { collected } from '../collection'
import { newVisitor, reported, withClock } from './visitor'
import { test, type World } from './world'

async function addSite({ database, demoOrigin, url }: World, share = 10_000): Promise<{ id: number; line: string }> {
  const [owner] = await database.insert(organisation).values({ name: 'Behavior' }).returning()
  const { id, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name: 'Behavior' })
  await updateCollection(database, id, null, collected({ behavior: share }))
  return { id, line: scriptLine(url, key) }
}

/** Everything that leaves a page for Vetch, as it is sent. */
function watchSent(page: Page): { events: CollectedEvent[]; text: () => string } {
  const bodies: string[] = []
  const sent = { events: [] as CollectedEvent[], text: () => bodies.join('\n') }
  page.context().on('request', (request) => {
    if (!request.url().endsWith('/collect')) return
    bodies.push(request.postData() ?? '')
    sent.events.push(...(request.postDataJSON() as { events: CollectedEvent[] }).events)
  })
  return sent
}
/** As it happened: what a page leaves behind is sent later. */
const inOrder = (events: readonly CollectedEvent[]) =>
  [...new Map(events.map((event) => [event.id, event])).values()].sort((a, b) => (a.id < b.id ? -1 : 1))
const isRecorderThere = (page: Page) =>
  page.waitForFunction(() => performance.getEntriesByType('resource').some(({ name }) => name.includes('/recorder.js')))

test('forms are told field by field, and never what is typed', async ({ world, browser }) => {
  const { id, line } = await addSite(world)
  await world.serveDemo({ scriptLine: line })
  const context = await newVisitor(browser)
  const page = await context.newPage()
  const sent = watchSent(page)
  await page.goto(`${world.demoOrigin}/book`)
  await isRecorderThere(page)
  await expect.poll(() => sent.events.filter(({ type }) => type === 'form').length).toBe(1)
  const length = page.getByLabel(/Length of the vehicle/)
  await page.getByLabel('Day').pressSequentially('05012027')
  await length.pressSequentially('4711.25', { delay: 20 })
  await page.getByLabel('Children').focus()
  await length.fill('')
  await length.pressSequentially('9')
  await page.locator('[name=vehicle]').focus()
  await page.goto(`${world.demoOrigin}/book/travelers`)
  await isRecorderThere(page)
  await page.getByLabel('Name').fill('Xanthippe Unmistakable')
  await page.getByLabel('E-mail address').focus()
  await page.goto(`${world.demoOrigin}/help`)
  await reported(page)

  const forms = inOrder(sent.events).filter(({ type }) => type === 'form')
  const known = FORMS.filter(({ path }) => path === '/book' || path === '/book/travelers')
  expect(forms.map(({ name, element, properties }) => ({ name, element, properties }))).toEqual(
    known.map(({ name, element, fields }) => ({
      name,
      element,
      properties: { fields: fields.map(({ name: own, label, kind }) => ({ name: own, label, kind })) },
    })),
  )
  const fields = inOrder(sent.events).filter(({ type }) => type === 'field')
  expect(fields.map(({ name, properties }) => [name, (properties as { isBlank: boolean }).isBlank])).toEqual([
    ['date', false],
    ['length', false],
    ['children', false],
    ['length', false],
    ['vehicle', false],
    ['name', false],
    ['email', true],
  ])
  expect(fields.map(({ properties }) => (properties as { isRefill: boolean }).isRefill)).toEqual([
    false,
    false,
    false,
    true,
    false,
    false,
    false,
  ])
  expect(fields.map(({ element }) => element)).toEqual(
    fields.map(({ name }) => known.flatMap((form) => form.fields).find((field) => field.name === name)!.element),
  )
  for (const typed of ['4711', '2027-05', 'Xanthippe', 'Unmistakable']) expect(sent.text()).not.toContain(typed)
  const { rows } = await world.database.execute<{ text: string }>(
    sql`SELECT coalesce(string_agg(event::text, ' '), '') AS text FROM event WHERE site_id = ${id}`,
  )
  expect(rows[0]!.text).toContain('length')
  expect(rows[0]!.text).not.toContain('Xanthippe')
  await context.close()
})

test('a click that does nothing is dead, quick ones are rage, and those that are answered are neither', async ({
  world,
  browser,
}) => {
  const { line } = await addSite(world)
  const server = createServer((_, response) => {
    response.setHeader('content-type', 'text/html')
    response.end(
      `<!doctype html><head>${line}</head><h1 id="still">Nothing here</h1><button id="more" onclick="count.textContent++">More</button>
      <b id="count">0</b><button id="slow">Slow</button><a id="away" href="#there">Away</a><details><summary>Open</summary>Text</details>`,
    )
  })
  await world.serve(server)
  const context = await newVisitor(browser)
  const page = await context.newPage()
  const sent = watchSent(page)
  await withClock(page)
  await page.goto(world.demoOrigin)
  await isRecorderThere(page)
  await page.locator('#still').click()
  await page.clock.fastForward(1200)
  for (let times = 0; times < 5; times++) await page.locator('#more').click()
  await page.locator('summary').click()
  await page.clock.fastForward(2200)
  await page.locator('#slow').click({ clickCount: 4, delay: 10 })
  await expect.poll(() => sent.events.filter(({ type }) => type === 'rage').length).toBe(1)
  const told = sent.events.filter(({ type }) => type === 'rage' || type === 'dead')
  const named = told.map(({ type, element, properties }) => [type, /#(\w+)/.exec(element!)![1], properties])
  expect(named.filter(([type]) => type === 'rage')).toEqual([['rage', 'slow', { clicks: 4 }]])
  expect(new Set(named.filter(([type]) => type === 'dead').map(([, element]) => element))).toEqual(
    new Set(['still', 'slow']),
  )
  await context.close()
})

test('reading is told as far and as long as the page was in the window', async ({ world, browser }) => {
  const { id, line } = await addSite(world)
  await world.serveDemo({ scriptLine: line })
  const context = await newVisitor(browser)
  const page = await context.newPage()
  await page.setViewportSize({ width: 390, height: 844 })
  const sent = watchSent(page)
  await withClock(page)
  await page.goto(`${world.demoOrigin}/crossings/torrin`)
  await isRecorderThere(page)
  await page.clock.fastForward(600)
  await page.mouse.wheel(0, 300)
  await page.waitForFunction(() => scrollY === 300)
  await page.clock.fastForward(600)
  const top = await page.locator('#book-crossing').evaluate((link) => link.getBoundingClientRect().y + scrollY)
  expect(Math.abs(top - BOXES.bookCrossing.phone[1])).toBeLessThan(12)
  await page.goto(`${world.demoOrigin}/help`)
  await reported(page)
  const reading = sent.events.find(({ type }) => type === 'reading')!.properties as {
    seen: number
    depth: number
    height: number
    bands: number[]
  }
  expect(reading.depth).toBe(1144)
  expect(reading.seen).toBeGreaterThan(1100)
  // The first part was in the window before the scrolling, the middle all the time, the end never.
  expect(reading.bands[0]).toBeGreaterThan(400)
  expect(reading.bands[0]!).toBeLessThan(reading.bands[8]!)
  expect(Math.abs(reading.bands[8]! - reading.seen)).toBeLessThan(50)
  expect(reading.bands[19]).toBe(0)

  await updateCollection(world.database, id, null, collected())
  await expect
    .poll(async () => (await (await fetch(line.match(/src="([^"]+)"/)![1]!)).text()).includes('"kind":"behavior"'))
    .toBe(false)
  await context.clearCookies()
  const other = await (await newVisitor(browser)).newPage()
  await other.goto(`${world.demoOrigin}/help`)
  await reported(other)
  expect(await other.evaluate(() => document.querySelector('script[src*="recorder"]'))).toBe(null)
  await other.context().close()
  await context.close()
})
