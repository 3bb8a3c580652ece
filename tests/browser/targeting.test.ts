import { createServer } from 'node:http'
import { devices, expect, type Browser, type BrowserContextOptions, type Page } from '@playwright/test'
import { and, eq } from 'drizzle-orm'
import type { FactTest, Group } from '../../core/targeting/condition'
import type { Fact } from '../../core/targeting/visitorFacts'
import { event, experiment, site } from '../../server/database/schema'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved, type Team } from './team'
import { handOn } from './handOn'
import { headlinesSeen, newVisitor, reported } from './visitor'
import { test, type World } from './world'

let prepared: Promise<Team> | undefined
const team = (world: World) => (prepared ??= createTeam(world, 'targeting'))

/** A draft that gives all its visitors another headline. */
async function newDraft(world: World, name: string, parts: SheetParts = {}) {
  const { siteId } = await team(world)
  const { id } = await createExperiment(world.database, siteId, null, name)
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
      {
        id: 'variant-b',
        name: 'Other',
        weight: 9999,
        edits: [{ id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: name }],
      },
    ],
    ...parts,
  })
  return { id, target, start: () => moveExperiment(world.database, target, 'start') }
}
/** What a new visitor reads last in the headline. */
async function seenOn(world: World, browser: Browser, path: string, options: BrowserContextOptions = {}) {
  const context = await newVisitor(browser, options)
  const headlines = await headlinesSeen(await context.newPage(), world.demoOrigin + path)
  await context.close()
  return headlines.at(-1)
}

test('rules are tried on the addresses that occurred while they are typed, and made from examples', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await team(world)
  const paths = ['/', '/crossings/torrin', '/crossings/ennisay', '/crossings/old', '/book', '/book/done']
  const visitors = paths.map((path, index) => ({ visitor: `v-${index}`, at: Date.now() - 3_600_000, path }))
  await happen(world.database, { id: siteId, address: world.demoOrigin }, visitors)
  await folded(world.database, siteId)
  const { id } = await newDraft(world, 'By examples')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await expect(who).toContainText('1 of 6 addresses')
  await who.getByLabel('Path').fill('/crossings')
  await expect(who).toContainText('0 of 6 addresses')
  await who.getByLabel('Address', { exact: true }).selectOption('begins')
  await expect(who).toContainText('3 of 6 addresses')

  await who.getByLabel('Address', { exact: true }).selectOption('regex')
  await who.getByLabel('Path').fill('^([a-z/]+)+$')
  await who.getByLabel('Path').blur()
  await expect(who.getByRole('alert')).toContainText('very long')
  await expect(who.getByLabel('Path')).toHaveValue('^([a-z/]+)+$')

  await who.getByRole('button', { name: 'Show them' }).click()
  for (const path of ['/crossings/torrin', '/crossings/ennisay'])
    await who.getByRole('button', { name: `${path} shall be in` }).click()
  await who.getByRole('button', { name: '/crossings/old shall be out' }).click()
  const proposals = who.getByRole('group', { name: 'Rules from the examples' })
  await expect(proposals).toContainText('addresses that begin with /crossings/, but not addresses that end with /old')
  await proposals.getByRole('button', { name: 'Use it' }).first().click()
  await saved(page)
  await expect(who).toContainText('2 of 6 addresses')
  const { pageRules } = await findSheet(world.database, siteId, id)
  expect(pageRules).toMatchObject([
    { match: 'begins', value: '/crossings/' },
    { match: 'ends', value: '/old', isExcluded: true },
  ])
})

test('a rule by parameter with another that excludes pages is written on the sheet, and visitors get it so', async ({
  world,
  page,
  browser,
}) => {
  const { signIn, siteId } = await team(world)
  const { id, start } = await newDraft(world, 'By mail')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await who.getByRole('button', { name: 'More' }).click()
  await who.getByLabel('Looks at').selectOption('parameter')
  await who.getByLabel('Parameter').fill('from')
  await who.getByLabel('Value').fill('MAIL')
  await who.getByLabel('Value').blur()
  await who.getByLabel('Ignore case').check()
  await who.getByRole('button', { name: 'Add another address' }).click()
  await who.getByLabel('Path').fill('/passes')
  await who.getByLabel('Path').blur()
  await saved(page)
  await who.getByRole('button', { name: 'More' }).click()
  await who.getByLabel('The rule').nth(1).selectOption('out')
  await saved(page)
  expect((await findSheet(world.database, siteId, id)).pageRules).toMatchObject([
    { match: 'exact', value: 'MAIL', part: 'parameter', parameter: 'from', ignoresCase: true },
    { match: 'exact', value: '/passes', isExcluded: true },
  ])
  await start()
  await world.serveDemo({ scriptLine: scriptLine(world.url, (await findSite(world.database, siteId)).key) })
  expect(await seenOn(world, browser, '/?from=mail')).toBe('By mail')
  expect(await seenOn(world, browser, '/timetable?from=Mail&x=1')).toBe('By mail')
  expect(await seenOn(world, browser, '/passes?from=mail')).not.toBe('By mail')
  expect(await seenOn(world, browser, '/?from=post')).not.toBe('By mail')
})

const holds = (test: FactTest): Group => ({ join: 'all', of: [test] })
const texts = (fact: Fact, ...values: string[]): Group => holds({ fact, is: 'oneOf', texts: values })
/** One experiment for each condition, on an element of its own. */
const AUDIENCES: Record<string, Group> = {
  phone: texts('device', 'phone'),
  german: holds({ fact: 'language', is: 'begins', texts: ['de'] }),
  mail: holds({ fact: 'parameter', name: 'from', is: 'oneOf', texts: ['mail'] }),
  spring: texts('campaign', 'spring sailings'),
  linked: holds({ fact: 'referrer', is: 'begins', texts: ['localhost'] }),
  cookie: holds({ fact: 'cookie', name: 'loyal', is: 'oneOf', texts: ['yes'] }),
  gold: holds({ fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] }),
  seats: holds({ fact: 'attribute', name: 'seats', is: 'least', number: 4 }),
  full: holds({ fact: 'data', name: 'basket.total', is: 'least', number: 50 }),
  returning: texts('visitor', 'returning'),
  irish: texts('country', 'IE'),
  ordered: holds({ fact: 'did', name: 'order', is: 'least', number: 1, days: 7 }),
  read: holds({ fact: 'seen', page: { match: 'exact', value: '/fares' }, is: 'least', number: 1 }),
  neither: { join: 'none', of: [texts('device', 'phone'), texts('country', 'IE')] },
}
const NAMES = Object.keys(AUDIENCES)

async function serveAudiences(world: World) {
  const team = await createTeam(world, 'audiences')
  const { siteId } = team
  for (const [name, audience] of Object.entries(AUDIENCES)) {
    const { id } = await createExperiment(world.database, siteId, null, name)
    const target = { siteId, experimentId: id, personId: null }
    await fillSheet(world.database, target, {
      pageRules: [{ match: 'begins', value: '/' }],
      audience,
      plan: PLAN,
      metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'paid' })],
      variants: [
        { name: 'Control', weight: 1, edits: [] },
        {
          name: 'In',
          weight: 9999,
          edits: [{ id: `edit-${name}-0`, kind: 'text', selector: `#${name}`, original: 'out', value: 'in' }],
        },
      ],
    })
    await moveExperiment(world.database, target, 'start')
  }
  const { key } = await findSite(world.database, siteId)
  const body = NAMES.map((name) => `<p id="${name}">out</p>`).join('')
  const pages = createServer((request, response) => {
    const { searchParams } = new URL(request.url ?? '/', world.demoOrigin)
    const early = searchParams.has('gold') ? '<script>window.vetch=[{attributes:{plan:"Gold",seats:"4"}}]</script>' : ''
    const data = '<script>window.vetchData={basket:{total:84.5}}</script>'
    response
      .writeHead(200, { 'content-type': 'text/html' })
      .end(`<!doctype html><head>${early}${data}${scriptLine('/vetch', key)}</head><body><h1>Boats</h1>${body}`)
  })
  await world.serve(handOn(pages, '/vetch', world.url, '198.18.64.9'))
  return team
}

test('conditions on visitors are decided in the browser, also what comes late, and whoever is out is not counted', async ({
  world,
  browser,
}) => {
  const { siteId } = await serveAudiences(world)
  const inOn = async (page: Page) => {
    const found = await page.locator('p').evaluateAll((all) => all.map(({ id, textContent }) => [id, textContent]))
    return found.filter(([, text]) => text === 'in').map(([name]) => name)
  }
  const first = await newVisitor(browser, { locale: 'de-DE' })
  await first.addCookies([{ name: 'loyal', value: 'yes', url: world.demoOrigin }])
  const page = await first.newPage()
  await page.goto(`${world.demoOrigin}/?gold&from=mail&utm_campaign=Spring%20sailings`)
  const atOnce = ['german', 'mail', 'spring', 'cookie', 'gold', 'full', 'irish']
  // The place is found a moment later; seats is a text, which is no number.
  await expect.poll(() => inOn(page)).toEqual(atOnce)
  const push = (command: object) =>
    page.evaluate((each) => void (window as unknown as { vetch: object[] }).vetch.push(each), command)
  await push({ attributes: { seats: 4 } })
  await expect.poll(() => inOn(page)).toContain('seats')
  await push({ event: 'order' })
  await expect.poll(() => inOn(page)).toContain('ordered')
  await reported(page)
  await page.goto(`${world.demoOrigin}/fares`)
  await page.goto(`${world.demoOrigin}/`)
  await expect.poll(() => inOn(page)).toEqual(['german', 'spring', 'cookie', 'full', 'irish', 'ordered', 'read'])
  // Half an hour with nothing ends the visit.
  await page.evaluate(() => {
    const [id, , visit] = localStorage.getItem('vetch_session')!.split(' ')
    localStorage.setItem('vetch_session', `${id} ${Date.now() - 31 * 60_000} ${visit}`)
  })
  await page.goto(`${world.demoOrigin}/`, { referer: 'http://localhost/blog' })
  await expect.poll(() => inOn(page)).toContain('returning')
  expect(await inOn(page)).toEqual(expect.arrayContaining(['linked', 'ordered', 'read']))
  expect(await inOn(page)).not.toContain('spring')
  await reported(page)
  await first.close()

  const other = await newVisitor(browser, { ...devices['Pixel 7'], locale: 'en-IE' })
  const phone = await other.newPage()
  await phone.goto(`${world.demoOrigin}/`)
  await expect.poll(() => inOn(phone)).toEqual(['phone', 'full', 'irish'])
  await reported(phone)
  await other.close()

  const exposed = await world.database
    .selectDistinct({ name: experiment.name })
    .from(event)
    .innerJoin(experiment, eq(experiment.id, event.experimentId))
    .where(and(eq(event.siteId, siteId), eq(event.type, 'exposure')))
  // Nobody was in “neither”, and nobody was exposed to it.
  expect(exposed.map(({ name }) => name).sort()).toEqual(NAMES.filter((name) => name !== 'neither').sort())
})

test('an audience is put together on the sheet, reads as a sentence, and a contradiction stops the start', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await team(world)
  const { id } = await newDraft(world, 'For some')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await who.getByRole('button', { name: 'Choose an audience' }).click()
  await who.getByRole('checkbox', { name: 'phone' }).check()
  await who.getByRole('button', { name: 'Add a condition' }).click()
  await who.getByLabel('Asks for').nth(1).selectOption('visits')
  await who.getByRole('textbox', { name: 'Number' }).fill('two')
  await who.getByRole('textbox', { name: 'Number' }).blur()
  await expect(who.getByRole('alert')).toContainText('Type a number.')
  await expect(who.getByRole('textbox', { name: 'Number' })).toHaveValue('two')
  await who.getByRole('textbox', { name: 'Number' }).fill('2')
  await who.getByRole('textbox', { name: 'Number' }).blur()
  await saved(page)
  await expect(who).toContainText('Visitors: device is phone and number of visits is at least 2.')
  await who.getByRole('button', { name: 'Add a condition' }).click()
  await who.getByLabel('Asks for').nth(2).selectOption('visits')
  await who.getByLabel('Compared').nth(1).selectOption('most')
  await who.getByRole('textbox', { name: 'Number' }).nth(1).fill('1')
  await who.getByRole('textbox', { name: 'Number' }).nth(1).blur()
  await saved(page)
  await expect(page.getByText('Number of visits: nobody fits both conditions.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await saved(page)
  expect((await findSheet(world.database, siteId, id)).audience).toMatchObject({
    join: 'all',
    of: [
      { fact: 'device', is: 'oneOf', texts: ['phone'] },
      { fact: 'visits', is: 'least', number: 2 },
    ],
  })
})

test('a draft is scheduled by the clock of the site, in whole weeks, and starts by itself', async ({ world, page }) => {
  const { signIn, siteId } = await team(world)
  await world.database.update(site).set({ timeZone: 'Europe/Dublin' }).where(eq(site.id, siteId))
  const { id } = await newDraft(world, 'At eight', { pageRules: [{ match: 'exact', value: '/at-eight' }] })
  await signIn(page, 'owner', `experiments/${id}`)
  await page.getByRole('button', { name: 'Schedule …' }).click()
  const dialog = page.getByRole('dialog', { name: 'Start and end by itself' })
  await dialog.getByLabel('Starts').fill('2020-01-06T08:00')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog.getByRole('alert')).toContainText('This time has passed.')
  await expect(dialog.getByLabel('Starts')).toHaveValue('2020-01-06T08:00')
  // A Monday in summer, and a night on which clocks are put back.
  await dialog.getByLabel('Starts').fill('2031-07-07T08:00')
  await dialog.getByLabel('Ends').fill('2031-10-26T01:30')
  await expect(dialog).toContainText('comes twice')
  await expect(dialog).toContainText('no whole weeks')
  await dialog.getByRole('button', { name: 'after 2 weeks' }).click()
  await expect(dialog.getByLabel('Ends')).toHaveValue('2031-07-21T08:00')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('region', { name: 'Schedule' })).toContainText('starts Jul 7, 2031')
  const { schedule } = await findSheet(world.database, siteId, id)
  expect(schedule).toEqual({ start: '2031-07-07T07:00:00.000Z', end: '2031-07-21T07:00:00.000Z', problem: null })

  await world.database.update(experiment).set({ startsAt: new Date() }).where(eq(experiment.id, id))
  await expect.poll(async () => (await findSheet(world.database, siteId, id)).state).toBe('running')
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Change the schedule' })).toBeVisible()
})
