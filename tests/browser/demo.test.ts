import { eq } from 'drizzle-orm'
import { expect, type Browser, type Page } from '@playwright/test'
import { organisation, site } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import { createKiosk } from '../../demo/kiosk/server'
import { simulateHistory } from '../../demo/data/simulateHistory'
import { ELEMENTS, KIOSK_ELEMENTS, type DemoElement } from '../../demo/visitors/elements'
import { CROSSINGS_POPULATION, KIOSK_POPULATION, type Population } from '../../demo/visitors/population'
import type { CollectedEvent, CollectedView } from '../../shared/intake/collect'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { book, newVisitor, reported } from './visitor'
import { test, type World } from './world'

/** Everything that a browser has sent. */
interface Sent {
  views: CollectedView[]
  events: CollectedEvent[]
}

/** Adds the site with an experiment on its start page and an amount to read, and returns its script line. */
async function addSite(
  { database, demoOrigin, url }: World,
  name: string,
  eventDetails: string[] = [],
): Promise<string> {
  const [owner] = await database.insert(organisation).values({ name }).returning()
  const { id: siteId, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name })
  await noteFirstReport(database, siteId)
  await database.update(site).set({ eventDetails }).where(eq(site.id, siteId))
  const { id } = await createExperiment(database, siteId, null, 'Start page')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'B',
        weight: 1,
        edits: [{ id: 'edit-footer-1', kind: 'text', selector: '#nowhere', original: '', value: 'B' }],
      },
    ],
    metrics: [
      primaryMetric('Amount', 'mean', {
        type: 'pageAmount',
        page: { match: 'exact', value: '/book/done' },
        selector: '#order-total',
        reference: { parameter: 'ref' },
      }),
    ],
  })
  await moveExperiment(database, target, 'start')
  return scriptLine(url, key)
}

async function visitorOf(browser: Browser): Promise<{ page: Page; sent: Sent }> {
  const context = await newVisitor(browser)
  const sent: Sent = { views: [], events: [] }
  context.on('request', (request) => {
    if (!request.url().endsWith('/collect')) return
    const { views, events } = request.postDataJSON() as Sent
    // A view goes along with every batch of its events.
    sent.views.push(...views.filter(({ id }) => sent.views.every((known) => known.id !== id)))
    sent.events.push(...events)
  })
  const page = await context.newPage()
  return { page, sent }
}

/** Clicks each element, and submits each form, on the page where it stands. */
async function useAll(page: Page, origin: string, elements: readonly DemoElement[]): Promise<void> {
  for (const { path, element } of elements) {
    await page.goto(origin + path)
    // Addresses of links are kept without their queries.
    const found = page.locator(element.replace(/\[href="/g, '[href^="'))
    await found.evaluate((target) => {
      for (const type of ['click', 'submit']) addEventListener(type, (event) => event.preventDefault())
      if (target instanceof HTMLFormElement) Object.assign(target, { noValidate: true }).requestSubmit()
      else target.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true, clientX: 5, clientY: 5 }))
    })
    await reported(page)
  }
}

/** The fields that occur, by kind of event. */
function fieldsByKind({ views, events }: Sent): Record<string, string[]> {
  const fields: Record<string, Set<string>> = {}
  const note = (kind: string, what: object) => {
    for (const name of Object.keys(JSON.parse(JSON.stringify(what)) as object)) (fields[kind] ??= new Set()).add(name)
  }
  views.forEach((view) => note('view', view))
  events.forEach((event) => note(event.type, event))
  return Object.fromEntries(Object.entries(fields).map(([kind, names]) => [kind, [...names].sort()]))
}

function simulated(population: Population): Sent {
  const pages = [{ match: 'exact', value: '/' } as const]
  const visits = simulateHistory({
    origin: 'http://demo.test',
    rollouts: [],
    experiments: [
      { id: 1, salt: 'demo', share: 10_000, weights: [1, 1], pages, from: 0, until: Number.POSITIVE_INFINITY },
    ],
    population,
    behavior: null,
    survey: null,
    until: new Date(Date.UTC(2026, 3, 1, 12)),
    days: 20,
    visitors: 1500,
    seed: 1,
  })
  const opened = [...visits].flat().flatMap((visit) => visit.pages)
  return { views: opened.map(({ view }) => view), events: opened.flatMap(({ events }) => events) }
}

const asSent = ({ events }: Sent) =>
  events.flatMap(({ type, element, label }) => (type === 'click' || type === 'submit' ? [{ element, label }] : []))
const asNamed = (elements: readonly DemoElement[]) => elements.map(({ element, label }) => ({ element, label }))

test('the site’s elements and events are those that a browser reports', async ({ world, browser }) => {
  await world.serveDemo({ scriptLine: await addSite(world, 'Crossings') })
  const { page, sent } = await visitorOf(browser)
  await useAll(page, world.demoOrigin, Object.values(ELEMENTS))
  expect(asSent(sent)).toEqual(asNamed(Object.values(ELEMENTS)))

  await page.goto(`${world.demoOrigin}/?utm_campaign=spring`, { referer: 'https://search.example/' })
  await page.evaluate(() => setTimeout(() => Reflect.get({}, 'tide').height))
  await book(page, world.demoOrigin)
  await reported(page)
  expect(fieldsByKind(sent)).toEqual(fieldsByKind(simulated(CROSSINGS_POPULATION)))
  await page.context().close()
})

test('a ticket is bought at the kiosk without a page load, and its events are those that are simulated', async ({
  world,
  browser,
}) => {
  await world.serve(createKiosk({ scriptLine: await addSite(world, 'Kiosk', ['crossing', 'adults', 'children']) }))
  const { page, sent } = await visitorOf(browser)
  await page.goto(world.demoOrigin, { referer: 'https://search.example/' })
  // What goes wrong on a page before the snippet listens is told by nobody.
  await page.waitForFunction(() => performance.getEntriesByName('vetch').length > 0)
  await page.evaluate(() => {
    Object.assign(window, { isFirst: true })
    setTimeout(() => Reflect.get({}, 'tide').height)
  })
  await page.getByRole('link', { name: 'Torrin' }).click()
  await page.getByRole('button', { name: 'More Adults' }).click()
  await page.getByRole('button', { name: 'More Children' }).click()
  await page.getByRole('link', { name: 'Another island' }).click()
  await page.getByRole('link', { name: 'Little Skell' }).click()
  await page.getByRole('link', { name: 'Ennisay' }).waitFor({ state: 'detached' })
  await page.getByRole('link', { name: 'Kittiwake Crossings' }).click()
  await page.getByRole('link', { name: 'Ennisay' }).click()
  await page.getByRole('button', { name: 'More Adults' }).click()
  await page.getByRole('link', { name: 'Go on' }).click()
  await expect(page.locator('.total')).toHaveText('€ 19.00')
  await page.getByRole('button', { name: 'Pay', exact: true }).click()
  await page.getByRole('link', { name: 'Buy another ticket' }).click()
  await reported(page)
  expect(await page.evaluate(() => Reflect.get(window, 'isFirst'))).toBe(true)
  expect(sent.views.map(({ address }) => new URL(address).pathname.replace(/KT-\w+/, '…'))).toEqual([
    '/',
    '/to/torrin',
    '/',
    '/to/little-skell',
    '/',
    '/to/ennisay',
    '/pay',
    '/ticket/…',
    '/',
  ])
  expect(sent.views.map(({ title }) => title!.split(' – ')[0])).toEqual([
    'Tickets',
    'Who travels?',
    'Tickets',
    'Who travels?',
    'Tickets',
    'Who travels?',
    'Pay',
    'Your ticket',
    'Tickets',
  ])
  const clicked = new Set(asSent(sent).map((each) => JSON.stringify(each)))
  expect(asNamed(Object.values(KIOSK_ELEMENTS)).filter((each) => !clicked.has(JSON.stringify(each)))).toEqual([])
  expect(fieldsByKind(sent)).toEqual(fieldsByKind(simulated(KIOSK_POPULATION)))
  await page.context().close()
})
