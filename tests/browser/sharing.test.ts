import { createHmac } from 'node:crypto'
import { createServer } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { and, eq } from 'drizzle-orm'
import { PLAIN_TERMS, type SheetTerms } from '../../core/sheet/terms'
import type { Group } from '../../core/targeting/condition'
import { event, pageView, site } from '../../server/database/schema'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { listEnvironments } from '../../server/services/sites/environments'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { findSite } from '../../server/services/sites/sites'
import { createSurvey } from '../../server/services/surveys/surveys'
import { createGroup, listGroups } from '../../server/services/traffic/groups'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { CROSSINGS_SURVEY } from '../../demo/data/survey'
import { freePort } from '../../cli/stack/ports'
import { experimentResults } from '../../server/services/results/results'
import { folded } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved } from './team'
import { newVisitor, reported } from './visitor'
import { test, type World } from './world'

/** An experiment that says so, for nearly everybody, in an element of its own. */
async function launch(world: World, siteId: number, name: string, terms: Partial<SheetTerms>, parts: SheetParts = {}) {
  const { id } = await createExperiment(world.database, siteId, null, name)
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'begins', value: '/' }],
    plan: PLAN,
    terms: { ...PLAIN_TERMS, ...terms },
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'paid' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'In',
        weight: 9999,
        edits: [{ id: `edit-${name}-0`, kind: 'text', selector: `#${name}`, original: 'out', value: 'in' }],
      },
    ],
    ...parts,
  })
  await moveExperiment(world.database, target, 'start')
  return id
}

/** Pages with an element for each of the names. */
async function servePages(world: World, siteId: number, names: readonly string[]): Promise<void> {
  const { key } = await findSite(world.database, siteId)
  const body = names.map((name) => `<p id="${name}">out</p>`).join('')
  await world.serve(
    createServer(({ url }, response) => {
      // What the page says before the script line is told with the view.
      const early = '<script>window.vetch=[{attributes:{plan:"gold",secret:"x"}}]</script>'
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(
          `<!doctype html><head>${url === '/early' ? early : ''}${scriptLine(world.url, key)}</head><body><h1>Boats</h1>${body}`,
        )
    }),
  )
}
const push = (page: Page, command: object) =>
  page.evaluate((each) => void (window as unknown as { vetch: object[] }).vetch.push(each), command)
const inOn = async (page: Page) => {
  const found = await page.locator('p').evaluateAll((all) => all.map(({ id, textContent }) => [id, textContent]))
  return found.filter(([, text]) => text === 'in').map(([name]) => name)
}
const exposuresOf = async (world: World, siteId: number) => {
  const rows = await world.database
    .select({ experiment: event.experimentId })
    .from(event)
    .where(and(eq(event.siteId, siteId), eq(event.type, 'exposure')))
  return rows.map(({ experiment }) => experiment)
}

test('a change comes with an event, an element or a call, and leaves when its audience no longer holds', async ({
  world,
  browser,
}) => {
  const { siteId } = await createTeam(world, 'activation')
  const poor: Group = {
    join: 'none',
    of: [{ fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] }],
  }
  await launch(world, siteId, 'by-event', { activation: { on: 'event', name: 'basket' } })
  await launch(world, siteId, 'by-element', { activation: { on: 'element', selector: '#dialog[open]' } })
  await launch(world, siteId, 'by-call', { activation: { on: 'call', name: 'offer' } })
  const leaver = await launch(world, siteId, 'leaver', { leaves: true }, { audience: poor })
  await launch(world, siteId, 'stayer', {}, { audience: poor })
  await world.database
    .update(site)
    .set({
      attributes: ['plan'],
      eventDetails: ['vehicle', 'seats'],
      handingOn: { list: 'told', call: 'tell', event: true },
    })
    .where(eq(site.id, siteId))
  // The file is compiled with what starts next.
  const nobody: Group = { join: 'all', of: [{ fact: 'attribute', name: 'team', is: 'yes' }] }
  await launch(world, siteId, 'never', {}, { audience: nobody })
  await servePages(world, siteId, ['by-event', 'by-element', 'by-call', 'leaver', 'stayer', 'never'])

  const visitor = await newVisitor(browser)
  const page = await visitor.newPage()
  await page.addInitScript(() => {
    const heard: string[] = []
    Object.assign(window, {
      heard,
      tell: (told: { experimentName: string }) => heard.push(`call ${told.experimentName}`),
    })
    document.addEventListener('vetch:shown', (shown) =>
      heard.push(`event ${(shown as CustomEvent<{ variantName: string }>).detail.variantName}`),
    )
  })
  await page.goto(`${world.demoOrigin}/`)
  await expect.poll(() => inOn(page)).toEqual(['leaver', 'stayer'])
  await push(page, { event: 'basket', details: { vehicle: 'car', seats: 3, card: '4711', nested: {} } })
  await expect.poll(() => inOn(page)).toEqual(['by-event', 'leaver', 'stayer'])
  await page.evaluate(() => document.body.insertAdjacentHTML('beforeend', '<dialog id="dialog"></dialog>'))
  await push(page, { activate: 'offer' })
  await expect.poll(() => inOn(page)).toEqual(['by-event', 'by-call', 'leaver', 'stayer'])
  await page.evaluate(() => (document.querySelector('#dialog') as HTMLDialogElement).show())
  await expect.poll(() => inOn(page)).toEqual(['by-event', 'by-element', 'by-call', 'leaver', 'stayer'])

  await push(page, { attributes: { plan: 'gold', team: false } })
  await expect.poll(() => inOn(page)).toEqual(['by-event', 'by-element', 'by-call', 'stayer'])
  await push(page, { attributes: { plan: 'none' } })
  await expect.poll(() => inOn(page)).toContain('leaver')
  await reported(page)
  const told = await page.evaluate(() => {
    const { heard, told: list } = window as unknown as {
      heard: string[]
      told: { event: string; experimentName: string }[]
    }
    return { heard, list: list.map(({ event: name, experimentName }) => `${name} ${experimentName}`) }
  })
  expect(told.heard).toEqual(expect.arrayContaining(['call by-event', 'event In']))
  expect(told.list).toHaveLength(5)
  expect(told.list).toContain('vetch_shown by-call')
  // What left and came back was seen once; what never held was not.
  const exposed = await exposuresOf(world, siteId)
  expect(exposed).toHaveLength(5)
  expect(exposed.filter((each) => each === leaver)).toHaveLength(1)

  // Another page is decided anew, and tells what the site keeps of what is known of the visitor by then.
  await page.goto(`${world.demoOrigin}/early`)
  await reported(page)
  expect(await inOn(page)).toEqual([])
  const views = await world.database.select().from(pageView).where(eq(pageView.siteId, siteId))
  expect(views.find(({ address }) => address.endsWith('/early'))!.attributes).toEqual({ plan: 'gold' })
  // Of an event, too, only what the site keeps has left the browser.
  const events = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect(events.find(({ name }) => name === 'basket')!.details).toEqual({ vehicle: 'car', seats: 3 })
  await visitor.close()
})

test('visitors take part in one experiment of a group at most, also where they take turns over pages', async ({
  world,
  browser,
}) => {
  const { siteId } = await createTeam(world, 'groups')
  const [parts] = await createGroup(world.database, siteId, null, { name: 'Parts', kind: 'parts' })
  for (const name of ['half-a', 'half-b']) await launch(world, siteId, name, { group: parts!.id }, { share: 5000 })
  const turns = (await createGroup(world.database, siteId, null, { name: 'Turns', kind: 'turns' })).find(
    ({ kind }) => kind === 'turns',
  )!
  const onFares: SheetParts = { pageRules: [{ match: 'exact', value: '/fares' }] }
  await launch(world, siteId, 'second', { group: turns.id, rank: 2 })
  await launch(world, siteId, 'first', { group: turns.id, rank: 1 }, onFares)
  await servePages(world, siteId, ['half-a', 'half-b', 'first', 'second'])
  for (const [way, turn] of [
    [['/', '/fares', '/'], 'second'],
    [['/fares', '/', '/fares'], 'first'],
  ] as const) {
    const visitor = await newVisitor(browser)
    const page = await visitor.newPage()
    const halves = new Set<string>()
    const turned = new Set<string>()
    for (const path of way) {
      await page.goto(world.demoOrigin + path)
      await reported(page)
      const found = await inOn(page)
      found.filter((name) => name!.startsWith('half')).forEach((name) => halves.add(name!))
      found.filter((name) => !name!.startsWith('half')).forEach((name) => turned.add(name!))
    }
    expect(halves.size).toBe(1)
    expect([...turned]).toEqual([turn])
    await visitor.close()
  }
})

test('terms are written on the sheet: a ramp, a group and the moment, with what is wrong said beside it', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await createTeam(world, 'terms')
  await createGroup(world.database, siteId, null, { name: 'Booking pages', kind: 'turns' })
  const { id } = await createExperiment(world.database, siteId, null, 'On terms')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await who.getByRole('button', { name: 'Change the terms' }).click()
  await who.getByRole('button', { name: 'Add a step' }).click()
  await who.getByLabel('for', { exact: true }).fill('many')
  await who.getByLabel('for', { exact: true }).blur()
  await expect(who.getByRole('alert')).toContainText('Type how many days a step lasts.')
  await expect(who.getByLabel('for', { exact: true })).toHaveValue('many')
  await who.getByLabel('for', { exact: true }).fill('3')
  await who.getByLabel('for', { exact: true }).blur()
  await who.getByLabel('Group of experiments that exclude each other').selectOption('Booking pages')
  await who.getByLabel('Asked in place').fill('2')
  await who.getByLabel('Asked in place').blur()
  await who.getByLabel('Takes effect').selectOption('element')
  await who.getByLabel('Element (CSS selector)').fill('#(')
  await who.getByLabel('Element (CSS selector)').blur()
  await expect(who.getByRole('alert')).toContainText('not a CSS selector')
  await who.getByLabel('Element (CSS selector)').fill('#basket')
  await who.getByLabel('Element (CSS selector)').blur()
  await saved(page)
  const words = 'In the group “Booking pages”; takes effect once “#basket” is on the page; 5 % for 3 days at first.'
  await expect(who).toContainText(words, { ignoreCase: true })
  const [group] = await listGroups(world.database, siteId)
  expect((await findSheet(world.database, siteId, id)).terms).toEqual({
    unit: 'visitor',
    group: group!.id,
    rank: 2,
    leaves: false,
    activation: { on: 'element', selector: '#basket' },
    ramp: [{ share: 500, days: 3 }],
  })
  await page.getByRole('button', { name: 'Undo' }).click()
  await saved(page)
  expect((await findSheet(world.database, siteId, id)).terms.activation).toBeNull()
})

test('an audience is saved from a sheet, sized and changed in its list, and a persona is dry-run with reasons', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await createTeam(world, 'saved-audiences')
  const { id } = await createExperiment(world.database, siteId, null, 'For phones')
  await fillSheet(
    world.database,
    { siteId, experimentId: id, personId: null },
    {
      pageRules: [{ match: 'exact', value: '/' }],
    },
  )
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await who.getByRole('button', { name: 'Choose an audience' }).click()
  await who.getByRole('checkbox', { name: 'phone' }).check()
  await who.getByRole('button', { name: 'Save it under a name' }).click()
  const dialog = page.getByRole('dialog', { name: 'Save the audience' })
  await dialog.getByRole('button', { name: 'Save it' }).click()
  await expect(dialog.getByRole('alert')).toContainText('Give the audience a name.')
  await dialog.getByLabel('Name').fill('Phones')
  await dialog.getByRole('button', { name: 'Save it' }).click()
  await saved(page)
  await expect(who).toContainText('Visitors: in “Phones”.')

  await page.goto(`${world.url}/sites/${siteId}/experiments/audiences`)
  await page.getByRole('button', { name: 'Phones' }).click()
  const drawer = page.getByRole('dialog', { name: 'Phones' })
  await expect(drawer).toContainText('visitors of the last four weeks')
  await expect(drawer.getByRole('link', { name: 'For phones' })).toBeVisible()
  await drawer.getByRole('checkbox', { name: 'tablet' }).check()
  await drawer.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('row', { name: /Phones/ })).toContainText('device is phone or tablet')
  await page.getByRole('button', { name: 'Phones' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByText('“For phones” uses this audience.')).toBeVisible()

  await page.goto(`${world.url}/sites/${siteId}/experiments/dry-run`)
  const form = page.getByRole('form', { name: 'Made-up visitor' })
  await form.getByLabel('Device').selectOption('desktop')
  await form.getByLabel('Attributes').fill('plan gold')
  await form.getByRole('button', { name: 'Run it' }).click()
  await expect(page.getByText('“plan gold” is no line such as plan = gold.')).toBeVisible()
  await form.getByLabel('Attributes').fill('plan = gold')
  await form.getByRole('button', { name: 'Run it' }).click()
  const rows = page.getByRole('list', { name: 'What this visitor would get' })
  await expect(rows).toContainText('no: not in the audience')
  await expect(rows).toContainText('✕ does not hold device is phone or tablet, found "desktop"')
  await form.getByLabel('Name').fill('Desk with gold')
  await form.getByRole('button', { name: 'Save it' }).click()
  await expect(form.getByLabel('Test persona')).toHaveValue(/\d/)
  await page.reload()
  await form.getByText('Who it is').click()
  await expect(form.getByLabel('Attributes')).toHaveValue('plan = gold')
  await form.getByLabel('Device').selectOption('phone')
  await form.getByRole('button', { name: 'Run it' }).click()
  await expect(rows.getByRole('listitem').first()).toContainText(/Control|Variant B/)
})

test('groups and holdouts are made and ended in their place, and the start takes its part', async ({ world, page }) => {
  const { signIn, siteId, siteKey: key } = await createTeam(world, 'shared-traffic')
  await signIn(page, 'owner', 'experiments/traffic')
  await page.getByRole('button', { name: 'New group' }).click()
  await page.getByLabel('Name').fill('Booking')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('heading', { name: 'Booking' })).toBeVisible()
  await page.getByRole('button', { name: 'New holdout' }).click()
  await page.getByRole('button', { name: 'Begin now' }).click()
  await expect(page.getByRole('alert').first()).toContainText('Give the holdout a name.')
  await page.getByLabel('Name').fill('Autumn')
  await page.getByLabel('Until the day').fill('2031-01-01')
  await page.getByRole('button', { name: 'Begin now' }).click()
  await expect(page.getByRole('row', { name: /Autumn/ })).toContainText('5.0 %')

  const [group] = await listGroups(world.database, siteId)
  const id = await launch(world, siteId, 'part', { group: group!.id, ramp: [{ share: 500, days: 2 }] }, { share: 3000 })
  await page.reload()
  await expect(page.getByRole('img', { name: 'Parts of the visitors: part 30.0 %, free 70.0 %' })).toBeVisible()
  await expect(page.getByRole('row', { name: /Autumn/ })).toContainText('part')
  await page.getByRole('button', { name: 'End Autumn' }).click()
  await page.getByRole('dialog', { name: 'End Autumn?' }).getByRole('button', { name: 'End the holdout' }).click()
  await expect(page.getByRole('row', { name: /Autumn/ })).toContainText('ended')

  // What was kept from its visitors opens with the close, and what it showed stays.
  await page.getByRole('link', { name: 'Autumn' }).click()
  await expect(page.getByRole('main')).toContainText('Nobody has come since it began.')
  const holdoutsOfEntry = async () => {
    const { entries } = (await findSiteFile(world.database, key))!
    return entries.flatMap((each) => (each.kind === 'experiment' ? (each.holdouts ?? []) : []))
  }
  expect(await holdoutsOfEntry()).toHaveLength(1)
  await page.getByRole('button', { name: 'Close the holdout' }).click()
  await page.getByRole('dialog', { name: 'Close Autumn?' }).getByRole('button', { name: 'Close the holdout' }).click()
  await expect(page.getByTestId('state')).toContainText('everybody gets everything')
  expect(await holdoutsOfEntry()).toEqual([])

  await page.goto(`${world.url}/sites/${siteId}/experiments/${id}`)
  const ramp = page.getByRole('region', { name: 'Ramp-up' })
  await expect(ramp).toContainText('5.0 % of the visitors now, 30.0 % from')
  await ramp.getByRole('button', { name: 'Continue with 30.0 % now' }).click()
  await expect(ramp).toHaveCount(0)
  expect(await findSheet(world.database, siteId, id)).toMatchObject({ share: 3000, ramp: null })
})

test('the panel on the live page says what runs and why, shows variants to oneself, and counts nothing', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await createTeam(world, 'panel')
  const gold: Group = { join: 'all', of: [{ fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] }] }
  await launch(world, siteId, 'for-all', {})
  await launch(world, siteId, 'for-gold', {}, { audience: gold })
  await launch(world, siteId, 'elsewhere', {}, { pageRules: [{ match: 'exact', value: '/fares' }] })
  const draft = await createExperiment(world.database, siteId, null, 'Only a draft')
  await fillSheet(
    world.database,
    { siteId, experimentId: draft.id, personId: null },
    {
      pageRules: [{ match: 'exact', value: '/' }],
    },
  )
  const { content } = CROSSINGS_SURVEY
  await createSurvey(world.database, siteId, null, {
    name: 'Boats?',
    content: { ...content, share: 10_000, pages: [{ match: 'exact', value: '/' }] },
  })
  await servePages(world, siteId, ['for-all', 'for-gold', 'elsewhere'])
  await signIn(page, 'viewer', 'experiments/dry-run?whom=panel')
  const [opened] = await Promise.all([
    page.context().waitForEvent('page'),
    page.getByRole('button', { name: 'Open it with the panel' }).click(),
  ])
  const panel = opened.getByRole('region', { name: 'What runs here' })
  await expect(panel.getByRole('listitem').filter({ hasText: 'for-all (running)' })).toContainText('In')
  await expect(panel.getByRole('listitem').filter({ hasText: 'elsewhere (running)' })).toContainText('not on this page')
  await expect(panel.getByRole('listitem').filter({ hasText: 'Only a draft (draft)' })).toContainText('would be')
  await expect(panel.getByRole('listitem').filter({ hasText: 'Boats? (survey, draft)' })).toContainText('takes part')
  const forGold = panel.getByRole('listitem').filter({ hasText: 'for-gold (running)' })
  await forGold.getByText('Why').click()
  await expect(forGold).toContainText('✕ attribute plan is gold: not known')
  await push(opened, { attributes: { plan: 'gold' } })
  await expect.poll(() => inOn(opened)).toEqual(['for-all', 'for-gold'])
  await push(opened, { event: 'order', amount: 12 })
  await expect(panel).toContainText('event: order, 12 EUR')
  await Promise.all([
    opened.waitForEvent('load'),
    panel.getByLabel('Variant of for-all for yourself').selectOption('Control'),
  ])
  await expect.poll(() => inOn(opened)).toEqual([])
  await opened.goto(`${world.demoOrigin}/fares`)
  await expect(panel).toContainText('page view: /fares')
  await expect.poll(() => inOn(opened)).toEqual(['elsewhere'])
  expect(await world.database.select().from(pageView).where(eq(pageView.siteId, siteId))).toEqual([])
  await panel.getByRole('button', { name: 'Leave' }).click()
  await expect(panel).toHaveCount(0)
  await reported(opened)
  expect(await world.database.select().from(pageView).where(eq(pageView.siteId, siteId))).toHaveLength(1)
})

test('an environment shows drafts by its origin, with the same script line, and is counted apart', async ({
  world,
  page,
  browser,
}) => {
  const { signIn, siteId } = await createTeam(world, 'environments')
  const { id } = await createExperiment(world.database, siteId, null, 'On staging')
  await fillSheet(
    world.database,
    { siteId, experimentId: id, personId: null },
    {
      pageRules: [{ match: 'exact', value: '/' }],
      variants: [
        { name: 'Control', weight: 1, edits: [] },
        {
          name: 'In',
          weight: 9999,
          edits: [{ id: 'edit-staged-0', kind: 'text', selector: '#staged', original: 'out', value: 'in' }],
        },
      ],
    },
  )
  await servePages(world, siteId, ['staged'])
  const staging = `http://127.0.0.1:${await freePort()}`
  const { key } = await findSite(world.database, siteId)
  const server = createServer((_, response) => {
    response
      .writeHead(200, { 'content-type': 'text/html' })
      .end(`<!doctype html><head>${scriptLine(world.url, key)}</head><body><h1>Boats</h1><p id="staged">out</p>`)
  })
  await new Promise<void>((started) => server.listen(Number(new URL(staging).port), '127.0.0.1', started))

  await signIn(page, 'owner', 'setup/site')
  await page.getByLabel('Environment', { exact: true }).fill('staging')
  await page.getByLabel('Its origin').fill('staging.example')
  const add = page.getByRole('region', { name: 'Environments' }).getByRole('button', { name: 'Add it' })
  await add.click()
  await expect(page.getByRole('alert')).toContainText('Type its address with http://')
  await page.getByLabel('Its origin').fill(staging)
  await add.click()
  await expect(page.getByRole('row', { name: /staging/ })).toContainText(staging)
  await page.goto(`${world.url}/sites/${siteId}/experiments/${id}`)
  await page.getByLabel('Shown on Crossings, staging').selectOption('to 100 %')
  await expect(page.getByLabel('Shown on Crossings, staging')).toHaveValue('10000')

  const visitor = await newVisitor(browser)
  const opened = await visitor.newPage()
  await expect(async () => {
    await opened.goto(`${staging}/`)
    expect(await inOn(opened)).toEqual(['staged'])
  }).toPass({ timeout: 180_000 })
  await reported(opened)
  await opened.goto(`${world.demoOrigin}/`)
  await reported(opened)
  expect(await inOn(opened)).toEqual([])
  await visitor.close()
  server.close()
  const [environment] = await listEnvironments(world.database, siteId)
  const viewsOf = (of: number) => world.database.select().from(pageView).where(eq(pageView.siteId, of))
  const own = await viewsOf(siteId)
  expect(own.map(({ address }) => address)).toEqual([`${world.demoOrigin}/`])
  const apart = await viewsOf(environment!.id)
  expect(apart.length).toBeGreaterThan(0)
  expect(apart.every(({ address }) => address === `${staging}/`)).toBe(true)
})

test('a person whom the page names gets the same on every device, from then on, and counts once', async ({
  world,
  browser,
}) => {
  const { siteId } = await createTeam(world, 'persons')
  const variants = ['A', 'B', 'C', 'D'].map((name, index) => ({
    name,
    weight: index === 0 ? 1 : 3333,
    edits:
      index === 0
        ? []
        : [{ id: `edit-person-${index}`, kind: 'text' as const, selector: '#person', original: 'out', value: name }],
  }))
  const id = await launch(world, siteId, 'person', { unit: 'person' }, { variants })
  await servePages(world, siteId, ['person'])
  const seen = new Set<string>()
  for (const device of [0, 1, 2]) {
    const visitor = await newVisitor(browser)
    const page = await visitor.newPage()
    await page.goto(`${world.demoOrigin}/`)
    await reported(page)
    await expect(page.locator('#person')).toHaveText('out')
    await push(page, { person: device === 2 ? 'customer-2' : 'customer-1' })
    await expect(page.locator('#person')).not.toHaveText('out')
    if (device < 2) seen.add(await page.locator('#person').innerText())
    await push(page, { event: 'paid' })
    await reported(page)
    await visitor.close()
  }
  expect(seen.size).toBe(1)
  await folded(world.database, siteId)
  const results = await experimentResults(world.database, await findSheet(world.database, siteId, id), new Date())
  expect(results.visitors).toBe(2)
  expect(results.metrics[0]!.arms.reduce((sum, arm) => sum + arm.sum, 0)).toBe(2)
  expect(results.soundness.map(({ text }) => text)).toContainEqual(
    expect.stringContaining('1 person of 2 came on more'),
  )
  // What the page calls the person by is told to nobody.
  const told = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect(JSON.stringify(told)).not.toContain('customer-1')
})

test('where an owner asks for proof, only ids that the site’s own server has made are of a person', async ({
  world,
  browser,
  page,
}) => {
  const { siteId, signIn } = await createTeam(world, 'proof')
  const id = await launch(world, siteId, 'person', { unit: 'person' })
  await servePages(world, siteId, ['person'])
  await signIn(page, 'owner', 'setup/collection')
  await page.getByRole('button', { name: 'Ask for proof …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Ask for proof' }).click()
  const key = await page.getByTestId('person-key').innerText()
  // As the sample beside the key says it.
  const digits = (text: string) => createHmac('sha256', key).update(text).digest('hex').slice(0, 32)
  const person = digits('person.customer-1')
  const proven = `${person}.${digits(`proof.${person}`)}`
  const forged = `${person}.${digits('proof.customer-1')}`
  for (const given of [proven, proven, forged, 'customer-1']) {
    const visitor = await newVisitor(browser)
    const opened = await visitor.newPage()
    await opened.goto(`${world.demoOrigin}/`)
    await push(opened, { person: given })
    await expect(opened.locator('#person')).toHaveText('in')
    await push(opened, { event: 'paid' })
    await reported(opened)
    await visitor.close()
  }
  await folded(world.database, siteId)
  const results = await experimentResults(world.database, await findSheet(world.database, siteId, id), new Date())
  expect(results.visitors).toBe(1)
  const told = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect([...new Set(told.map(({ personId }) => personId))].sort()).toEqual([null, person].sort())
  expect(JSON.stringify(told)).not.toContain(proven.split('.')[1])

  await page.reload()
  await page.getByLabel('Id of the person').fill('customer-1')
  await page.getByRole('button', { name: 'Find', exact: true }).click()
  await expect(page.getByTestId('person').getByRole('checkbox')).toHaveCount(2)
  await page.getByRole('button', { name: 'Stop asking for proof …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Stop asking for proof' }).click()
  await expect(page.getByText('Whoever knows the id of a person can claim to be that person.')).toBeVisible()
})
