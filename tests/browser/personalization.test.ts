import { expect, type Browser } from '@playwright/test'
import { DAY } from '../../core/time/units'
import { variantByBuckets } from '../../core/targeting/whyNot'
import { localTime } from '../../core/time/localMoment'
import { createDemoSite } from '../../demo/site/server'
import type { Edit } from '../../core/edits/content'
import type { Purpose } from '../../core/sheet/content'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { saltsOf } from '../../server/services/experiments/salts'
import { followSchedules } from '../../server/services/experiments/schedule'
import { findSheet } from '../../server/services/experiments/sheet'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { visitorId } from '../visitorId'
import { handOn } from './handOn'
import { createTeam } from './team'
import { headlinesSeen, newVisitor, reported, served } from './visitor'
import { test, type World } from './world'

const OLD = 'Three islands, one small harbor'
const IRELAND = '198.18.64.9'
const GERMANY = '198.19.0.9'
const FRANCE = '198.19.64.9'
const from = (...texts: string[]) => ({ join: 'all', of: [{ fact: 'country', is: 'oneOf', texts }] }) as const
const headline = (id: string, value: string) =>
  ({ id: `edit-${id}`, kind: 'text', selector: 'h1', original: OLD, value }) as const

/** A draft for the start page with one change. */
async function drafted(
  { database }: World,
  siteId: number,
  { name, purpose = 'test', change, weights = [1, 1], edits, parts = {} }: Drafted,
) {
  const { id: experimentId } = await createExperiment(database, siteId, null, name, purpose)
  const target = { siteId, experimentId, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric(`${name} orders`, 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: weights[0], edits: [] },
      { name: change, weight: weights[1], edits },
    ],
    ...parts,
  })
  return target
}
interface Drafted {
  name: string
  purpose?: Purpose
  /** Name of the variant that changes something. */
  change: string
  weights?: [number, number]
  edits: Edit[]
  parts?: SheetParts
}

/** What a visitor reads in the end, view after view of one visit, as they come from an address. */
async function readBy(world: World, browser: Browser, key: string, id: string, address: string, views = 1) {
  const site = createDemoSite({ scriptLine: scriptLine(`${world.demoOrigin}/vetch`, key).replace('1.5s', '30s') })
  await world.serve(handOn(site, '/vetch', world.url, address))
  const context = await newVisitor(browser)
  await context.addCookies([{ name: 'vetch_visitor', value: id, url: world.demoOrigin }])
  const page = await context.newPage()
  const read = new Set<string>()
  for (let view = 0; view < views; view++) {
    const placed = view === 0 ? page.waitForResponse('**/vetch/place*', { timeout: 5000 }).catch(() => null) : null
    await headlinesSeen(page, world.demoOrigin)
    await placed
    await page.evaluate(() => new Promise((frame) => requestAnimationFrame(() => requestAnimationFrame(frame))))
    read.add(await page.locator('h1').innerText())
  }
  await context.close()
  return [...read]
}

test('from Friday on visitors from one region read the wording that fits them first, and those held back the original for good', async ({
  world,
  page,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'personal')
  await team.signIn(page, 'editor', 'rollouts')
  await expect(page.getByText('Nothing is served to some only.')).toBeVisible()
  await page.getByRole('button', { name: 'New personalization' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Greeting from home')
  await page.getByRole('button', { name: 'Create' }).click()
  await expect(page.getByLabel('Name of the personalization')).toHaveValue('Greeting from home')
  const experimentId = Number(/experiments\/(\d+)/.exec(page.url())![1])
  const target = { siteId: team.siteId, experimentId, personId: null }
  const stored = () => findSheet(database, team.siteId, experimentId)

  // Half and more is refused with what to do, and what was typed stays.
  const heldBack = page.getByLabel('Held back', { exact: true })
  await expect(heldBack).toHaveValue('5')
  await heldBack.fill('60')
  await expect(page.getByText('At most half are held back.')).toBeVisible()
  await heldBack.fill('some')
  await heldBack.blur()
  await expect(page.getByText('Type the share in percent.')).toBeVisible()
  await expect(heldBack).toHaveValue('some')
  await heldBack.fill('40')
  await heldBack.blur()
  await expect.poll(async () => (await stored()).variants[0]!.weight).toBe(4000)
  await page.getByRole('button', { name: 'Add a wording' }).click()
  await expect.poll(async () => (await stored()).variants.length).toBe(3)
  await expect(page.getByText('“Served” is for everybody, so that nobody gets “Wording 2”.')).toBeVisible()

  const [control, first, second] = (await stored()).variants
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    share: 5000,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      control!,
      { ...first!, name: 'Hallo', audience: from('DE'), edits: [headline('hallo', 'Drei Inseln')] },
      { ...second!, name: 'Welcome', audience: from('DE', 'IE'), edits: [headline('welcome', 'Islands near home')] },
    ],
  })
  await expect(page.getByText('Visitors: country is DE or IE.')).toBeVisible()
  const friday = new Date(Date.now() + 3 * DAY)
  await page.getByRole('button', { name: 'Schedule …' }).click()
  await page
    .getByRole('dialog')
    .getByLabel('Starts')
    .fill(localTime(friday.getTime(), (await stored()).timeZone).slice(0, 16))
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect.poll(async () => (await stored()).schedule.start).not.toBeNull()

  const { salt } = (await saltsOf(database, team.siteId, [experimentId])).get(experimentId)!
  const drawn = (share: number) => (id: string) => variantByBuckets(id, { salt, share, weights: [4000, 6000] })
  const ids = [...Array(500).keys()].map((index) => visitorId(`personal-${index}`))
  const one = (now: number | null, later: number) =>
    ids.find((id) => drawn(5000)(id) === now && drawn(10_000)(id) === later)!
  const [held, served1, heldLater, servedLater] = [one(0, 0), one(1, 1), one(null, 0), one(null, 1)]
  const read = (id: string, address: string, views?: number) => readBy(world, browser, team.siteKey, id, address, views)
  expect(await read(served1, GERMANY)).toEqual([OLD])
  await followSchedules(database, new Date(friday.getTime() + 60_000))
  await served(url, team.siteKey, 'Drei Inseln')
  expect((await stored()).state).toBe('running')

  expect(await read(served1, GERMANY, 2)).toEqual(['Drei Inseln'])
  expect(await read(served1, IRELAND, 2)).toEqual(['Islands near home'])
  expect(await read(served1, FRANCE)).toEqual([OLD])
  expect(await read(held, GERMANY, 3)).toEqual([OLD])
  expect(await read(servedLater, GERMANY)).toEqual([OLD])

  await page.reload()
  await page.getByRole('button', { name: 'Raise the share' }).click()
  await page.getByLabel('Traffic share').fill('100')
  await page.getByLabel('Traffic share').blur()
  await served(url, team.siteKey, '"share":10000')
  expect(await read(servedLater, GERMANY)).toEqual(['Drei Inseln'])
  for (const id of [held, heldLater]) expect(await read(id, GERMANY, 3)).toEqual([OLD])

  // Whatever they read, they are measured as held back or served.
  await expect
    .poll(async () => {
      await page.reload()
      return page.getByRole('table', { name: 'Effect on all metrics' }).innerText()
    })
    .toMatch(/Orders/)
  await page.getByRole('button', { name: 'Stop …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByText('Stopped. Everybody sees the original.')).toBeVisible()
  await served(url, team.siteKey, 'Drei Inseln', false)
  expect(await read(served1, GERMANY)).toEqual([OLD])
})

test('a variant of a running experiment becomes the draft of a personalization, and the experiment goes on', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'keepon')
  const edits = [headline('sail', 'Sail today')]
  const target = await drafted(world, team.siteId, { name: 'Headline', change: 'Sail', edits })
  const { experimentId } = target
  await moveExperiment(world.database, target, 'start')
  await team.signIn(page, 'editor', `experiments/${experimentId}`)
  await page.getByRole('button', { name: 'Draft a personalization …' }).click()
  await page.getByRole('dialog').getByRole('radio', { name: 'Sail' }).check()
  await page.getByRole('button', { name: 'Make the draft' }).click()
  await expect(page.getByLabel('Name of the personalization')).toHaveValue('Headline: Sail')
  await expect(page.getByText('Sail today')).toBeVisible()
  await expect(page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Rollouts' })).toHaveAttribute(
    'aria-current',
    'page',
  )
  expect((await findSheet(world.database, team.siteId, experimentId)).state).toBe('running')
  await page.getByRole('navigation', { name: 'Areas' }).getByRole('link', { name: 'Rollouts' }).click()
  await page
    .getByRole('row', { name: /Headline: Sail/ })
    .getByRole('button', { name: /Delete/ })
    .click()
  await expect(page.getByText('Nothing is served to some only.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(page.getByRole('row', { name: /Headline: Sail/ })).toBeVisible()
})

test('a finding becomes the draft of a personalization at once, and the thread leads back to it', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'fromfinding')
  await team.signIn(page, 'editor', 'today')
  const reply = await page.request.post(`${world.url}/api/sites/${team.siteId}/findings`, {
    data: { title: 'Visitors from abroad ask for pounds' },
  })
  const { id } = (await reply.json()) as { id: number }
  await page.goto(`${world.url}/sites/${team.siteId}/evidence/findings/${id}`)
  await page.getByRole('button', { name: 'Make a personalization' }).click()
  await expect(page.getByLabel('Name of the personalization')).toHaveValue('Visitors from abroad ask for pounds')
  await expect(page.getByRole('navigation', { name: 'Thread' })).toContainText(/Finding\s*Visitors from abroad/)
})

/** A visitor with an id of their own, and what they read of the page in each view. */
async function visitorOf(world: World, browser: Browser, id: string) {
  const context = await newVisitor(browser)
  await context.addCookies([{ name: 'vetch_visitor', value: id, url: world.demoOrigin }])
  const page = await context.newPage()
  return {
    headlines: () => headlinesSeen(page, world.demoOrigin),
    reports: () => reported(page),
    readsFinder: () => page.locator('#find').innerText(),
    leave: () => context.close(),
  }
}

test('at the end of an experiment its variant is served without a gap, and some of the control stay held back', async ({
  world,
  page,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'nogap')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  const edits = [headline('sail', 'Sail today')]
  const target = await drafted(world, team.siteId, { name: 'Headline', change: 'Sail', edits })
  const { experimentId } = target
  await moveExperiment(database, target, 'start')
  await served(url, team.siteKey, 'Sail today')
  const { salt } = (await saltsOf(database, team.siteId, [experimentId])).get(experimentId)!
  const drawn = (id: string, weights: [number, number]) => variantByBuckets(id, { salt, share: 10_000, weights })
  const ids = [...Array(500).keys()].map((index) => visitorId(`nogap-${index}`))
  const idOf = (tested: number, later: number) =>
    ids.find((id) => drawn(id, [1, 1]) === tested && drawn(id, [1000, 9000]) === later)!
  expect(idOf(1, 0)).toBeUndefined()
  const had = await visitorOf(world, browser, idOf(1, 1))
  const held = await visitorOf(world, browser, idOf(0, 0))
  const other = await visitorOf(world, browser, idOf(0, 1))
  expect(await had.headlines()).toEqual(['Sail today'])

  await team.signIn(page, 'editor', `experiments/${experimentId}`)
  await page.getByRole('button', { name: 'End …' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('radio', { name: 'Sail' }).check()
  await dialog.getByRole('textbox', { name: 'Why' }).fill('More orders.')
  await dialog.getByLabel('Held back').fill('60')
  await dialog.getByRole('button', { name: 'End and roll out' }).click()
  await expect(dialog.getByText('At most half is held back')).toBeVisible()
  await dialog.getByLabel('Held back').fill('10')
  let hasEnded = false
  let views = 0
  const looking = (async () => {
    const seen = new Set<string>()
    for (; !hasEnded; views++) for (const each of await had.headlines()) seen.add(each)
    return [...seen]
  })()
  await dialog.getByRole('button', { name: 'End and roll out' }).click()
  await expect(page.getByText('Ended and rolled out.')).toBeVisible()
  await served(url, team.siteKey, '"weights":[1000,9000]')
  const untilServed = views
  await expect.poll(() => views).toBeGreaterThan(untilServed + 1)
  hasEnded = true
  expect(await looking).toEqual(['Sail today'])
  for (let view = 0; view < 2; view++) {
    expect(await had.headlines()).toEqual(['Sail today'])
    expect(await held.headlines()).toEqual([OLD])
    expect(await other.headlines()).toEqual(['Sail today'])
  }
  await page.getByRole('link', { name: 'Served, with some held back' }).click()
  await expect(page.getByLabel('Name of the personalization')).toHaveValue('Headline: Sail')
  for (const visitor of [had, held, other]) await visitor.leave()
})

test('beside a test what is served is in all its variants, or leaves its visitors alone until it ends', async ({
  world,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'beside')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  const button = (value: string) =>
    ({ id: 'edit-button', kind: 'text', selector: '#find', original: 'Find a crossing', value }) as const
  const tested = await drafted(world, team.siteId, {
    name: 'Button',
    change: 'Ferry',
    edits: [button('Find my ferry')],
    parts: { share: 5000 },
  })
  const toAll = { purpose: 'serve', change: 'Served', weights: [0, 10_000] as [number, number] } as const
  const serving = await drafted(world, team.siteId, {
    ...toAll,
    name: 'Greeting',
    edits: [headline('hello', 'Hello islands')],
  })
  await moveExperiment(database, tested, 'start')
  await moveExperiment(database, serving, 'start')
  await served(url, team.siteKey, 'Hello islands')
  const { salt } = (await saltsOf(database, team.siteId, [tested.experimentId])).get(tested.experimentId)!
  const ids = [...Array(200).keys()].map((index) => visitorId(`beside-${index}`))
  const idOf = (variant: number | null) =>
    ids.find((id) => variantByBuckets(id, { salt, share: 5000, weights: [1, 1] }) === variant)!
  const read = async (variant: number | null) => {
    const visitor = await visitorOf(world, browser, idOf(variant))
    const seen = [...(await visitor.headlines()), await visitor.readsFinder()]
    await visitor.leave()
    return seen
  }
  expect(await read(0)).toEqual(['Hello islands', 'Find a crossing'])
  expect(await read(1)).toEqual(['Hello islands', 'Find my ferry'])
  expect(await read(null)).toEqual(['Hello islands', 'Find a crossing'])

  await moveExperiment(database, serving, 'end')
  const apart = await drafted(world, team.siteId, {
    ...toAll,
    name: 'Greeting beside',
    edits: [headline('other', 'Hello others')],
    parts: { terms: { ...PLAIN_TERMS, apartFrom: [tested.experimentId] } },
  })
  await moveExperiment(database, apart, 'start')
  await served(url, team.siteKey, 'Hello others')
  expect(await read(0)).toEqual([OLD, 'Find a crossing'])
  expect(await read(1)).toEqual([OLD, 'Find my ferry'])
  expect(await read(null)).toEqual(['Hello others', 'Find a crossing'])
  await moveExperiment(database, tested, 'end')
  await served(url, team.siteKey, 'Find my ferry', false)
  expect(await read(1)).toEqual(['Hello others', 'Find a crossing'])
})

test('of two that change one element the later one is seen, and their order is changed and put back', async ({
  world,
  page,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'ordered')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  for (const value of ['Hello first', 'Hello second']) {
    const target = await drafted(world, team.siteId, {
      name: value,
      purpose: 'serve',
      change: 'Served',
      weights: [0, 10_000],
      edits: [headline(value.replace(' ', '-'), value)],
    })
    await moveExperiment(database, target, 'start')
  }
  await served(url, team.siteKey, 'Hello second')
  const reads = async () => {
    const visitor = await visitorOf(world, browser, visitorId('ordered'))
    const last = (await visitor.headlines()).at(-1)
    await visitor.reports()
    await visitor.leave()
    return last
  }
  expect(await reads()).toBe('Hello second')
  await team.signIn(page, 'editor', 'rollouts')
  const order = page.getByRole('region', { name: 'Order on a page' })
  await expect(order.getByRole('listitem')).toHaveText([/Hello first/, /Hello second/])
  await order.getByRole('button', { name: 'Move up Hello second' }).press('Enter')
  await expect(order.getByRole('listitem')).toHaveText([/Hello second/, /Hello first/])
  await expect.poll(reads).toBe('Hello first')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(order.getByRole('listitem')).toHaveText([/Hello first/, /Hello second/])
  await expect.poll(reads).toBe('Hello second')

  // The list of pages says what their visitors get beside it.
  await page.goto(`${url}/sites/${team.siteId}/evidence/pages`)
  await expect
    .poll(async () => {
      await page.reload()
      return page.getByRole('table', { name: 'Pages' }).innerText()
    })
    .toMatch(/Served[^]*Hello first\s+Hello second/)
})

test('a variant is pointed at, compared and previewed on the page as it is served, and without that', async ({
  world,
  page,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'shown')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  const greeting = await drafted(world, team.siteId, {
    name: 'Greeting',
    purpose: 'serve',
    change: 'Served',
    weights: [500, 9500],
    edits: [headline('shown', 'Hello islands')],
  })
  await moveExperiment(database, greeting, 'start')
  const find = { id: 'edit-find', kind: 'text', selector: '#find', original: 'Find a crossing', value: 'Go' } as const
  const { experimentId: id } = await drafted(world, team.siteId, { name: 'Button', change: 'Other', edits: [find] })

  // What is clicked is described as visitors have it, and turned off the page is as the site has it.
  await team.signIn(page, 'editor', `experiments/${id}/point?variant=1`)
  const frame = page.frameLocator('iframe[title="The page under test"]')
  await expect(frame.locator('h1')).toHaveText('Hello islands')
  await expect(frame.locator('#find')).toHaveText('Go')
  await frame.locator('h1').click()
  await expect(page.locator('aside')).toContainText('Hello islands')
  await page.getByLabel('With what is served').uncheck()
  await expect(frame.locator('h1')).toHaveText(OLD)
  await expect(frame.locator('#find')).toHaveText('Go')

  await page.goto(`${url}/sites/${team.siteId}/experiments/${id}/compare`)
  const sides = [0, 1].map((side) => page.frameLocator('iframe').nth(side))
  for (const side of sides) await expect(side.locator('h1')).toHaveText('Hello islands')
  await expect(sides[0]!.locator('#find')).toHaveText('Find a crossing')
  await page.getByLabel('With what is served').uncheck()
  for (const side of sides) await expect(side.locator('h1')).toHaveText(OLD)
  await page.reload()
  for (const side of sides) await expect(side.locator('h1')).toHaveText(OLD)

  const { variants } = await findSheet(database, team.siteId, id)
  const reply = await page.request.post(`${url}/api/sites/${team.siteId}/experiments/${id}/previews`, {
    data: { variant: variants[1]!.id, path: '/', days: 1 },
  })
  const visitor = await browser.newContext()
  const tab = await visitor.newPage()
  await tab.goto(((await reply.json()) as { link: string }).link)
  await expect(tab.locator('h1')).toHaveText('Hello islands')
  await expect(tab.locator('#find')).toHaveText('Go')
  await tab.getByRole('button', { name: 'With what is served' }).click()
  await expect(tab.locator('h1')).toHaveText(OLD)
  await expect(tab.locator('#find')).toHaveText('Go')
  await tab.getByRole('button', { name: 'With what is served' }).click()
  await expect(tab.locator('h1')).toHaveText('Hello islands')
  await visitor.close()
})
