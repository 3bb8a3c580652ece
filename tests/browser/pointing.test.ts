import { createServer } from 'node:http'
import { expect, type FrameLocator, type Locator, type Page } from '@playwright/test'
import type { Edit } from '../../core/edits/content'
import { variantFindings } from '../../core/preflight/variantFindings'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment } from '../../server/services/experiments/experiments'
import { eq } from 'drizzle-orm'
import { pageView } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite, updateSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { drawThingId } from '../../shared/thingId'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved, type Team } from './team'
import { test, type World } from './world'

let shared: Promise<Team> | undefined
const team = (world: World) => (shared ??= createTeam(world, 'pointing'))

const PAGE = `<main>
  <h1 id="title">Boats to <a id="where" href="/book">three islands</a></h1>
  <p class="lead">All year round.</p>
  <ul id="list"><li>Ennisay</li><li>Torrin</li><li>Little Skell</li></ul>
  <section id="side"><h2>Fares</h2><p>From 12 euro</p></section>
  <img id="pier" src="/pier.svg" alt="The pier" width="80" height="60">
  <p><a id="other" href="/other">Another page</a></p>
</main>`
const STYLE = 'body { margin: 20px; font: 16px sans-serif } #title, .lead, li, h2 { width: 400px }'

/** A form and a picture whose names hide what the browser calls so. */
const TRAP = `<form id="booking">
  ${['children', 'parentElement', 'style', 'id', 'action', 'remove', 'attributes', 'getBoundingClientRect', 'textContent', 'localName', 'append', 'replaceWith', 'classList', 'matches', 'closest', 'contains'].map((name) => `<label class="field">Field ${name} <input name="${name}"></label>`).join('')}
  <p id="way">By boat</p><button id="go">Go on</button>
</form>
<img name="body" id="body" alt=""><img name="querySelectorAll" id="querySelectorAll" alt=""><img name="createElement" id="createElement" alt="">`

interface Served {
  headers?: Record<string, string>
  /** What stands on the page beside the rest. */
  more?: string
  hasLine?: boolean
  /** What the page itself does. */
  script?: string
  /** Says on the page whom the request was of. */
  echoes?: boolean
}

/** A draft whose variant changes nothing yet, pointed at on a small page of the site. */
async function pointAt(
  world: World,
  page: Page,
  { headers = {}, hasLine = true, script = '', echoes = false, more = '' }: Served = {},
) {
  const { siteId, signIn } = await team(world)
  const { key } = await findSite(world.database, siteId)
  const html = `<!doctype html><html><head><meta charset="utf-8">${hasLine ? scriptLine(world.url, key) : ''}<style>${STYLE}</style><script>${script}</script></head><body>${PAGE}${more}</body></html>`
  await world.serve(
    createServer((request, response) => {
      const isPage = !/\.svg$|^\/missing/.test(request.url ?? '')
      if (request.url === '/bare') return response.end('<h1>Without the line</h1>')
      response
        .writeHead(isPage ? 200 : 404, { 'content-type': 'text/html', ...headers })
        .end(
          (request.url?.startsWith('/other') ? html.replace('Boats to', 'Other boats to') : html) +
            (echoes ? `<p id="asked">${request.headers['user-agent']} ${request.headers['accept-language']}</p>` : ''),
        )
    }),
  )
  const { id } = await createExperiment(world.database, siteId, null, 'Pointed')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { id: 'variant-b', name: 'Warm', weight: 1, edits: [] },
      { id: 'variant-c', name: 'Cool', weight: 1, edits: [] },
    ],
  })
  await signIn(page, 'editor', `experiments/${id}/point?variant=1`)
  if (hasLine) await expect(page.getByText('Click an element or use')).toBeVisible()
  const read = async (position = 1) => (await findSheet(world.database, siteId, id)).variants[position]!.edits
  const frame = page.frameLocator('iframe[title="The page under test"]')
  return { id, target, read, frame, heading: page.locator('aside h2') }
}

/** Opens a section of the panel, unless it was left open. */
async function open(page: Page, name: string): Promise<void> {
  const button = page.getByRole('button', { name, exact: false }).and(page.locator('[aria-expanded]'))
  if ((await button.getAttribute('aria-expanded')) === 'false') await button.click()
}
async function middle(element: Locator): Promise<{ x: number; y: number }> {
  const { x, y, width, height } = (await element.boundingBox())!
  return { x: x + width / 2, y: y + height / 2 }
}
async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2)
  await page.mouse.move(to.x, to.y)
  await page.mouse.up()
}
const html = (frame: FrameLocator) => frame.locator('main').evaluate((main) => main.innerHTML)

test('a form whose fields hide its properties is pointed at, changed and arranged like any other', async ({
  world,
  page,
}) => {
  const { frame, heading, read } = await pointAt(world, page, { more: TRAP })
  await frame.locator('#title').click({ position: { x: 5, y: 5 } })
  await expect(heading.first()).toHaveText('heading “Boats to three islands”')
  // What drives the browser reads properties as they stand, too, and so clicks by place here.
  const click = async (selector: string) => {
    const { x, y, height } = (await frame.locator(selector).boundingBox())!
    await page.mouse.click(x + 5, y + height / 2)
  }
  await click('#go')
  await expect(heading.first()).toHaveText('button “Go on”')
  await page.getByLabel('New text').fill('Continue')
  await expect(frame.locator('#go')).toHaveText('Continue')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect.poll(read).toMatchObject([{ kind: 'text', selector: '#go', value: 'Continue', original: 'Go on' }])

  // A part without an id, and the form around it.
  await click('.field >> nth=3')
  await expect(heading.first()).toHaveText(/“Field id/)
  await page.locator('aside').getByRole('button', { name: /^form/ }).first().click()
  await expect(heading.first()).toHaveText(/^form/)
  await expect(frame.locator('#title')).toHaveText('Boats to three islands')
})

test('edits are made by pointing, seen at once, taken back and made again', async ({ world, page }) => {
  const { frame, heading, read } = await pointAt(world, page)
  const original = await html(frame)
  const kinds = async () => (await read()).map(({ kind }) => kind)

  // Words whose link stays what it is, and one of which is made bold.
  await frame.locator('#title').click({ position: { x: 5, y: 5 } })
  await expect(heading.first()).toHaveText('heading “Boats to three islands”')
  const line = page.getByRole('textbox', { name: 'New text' })
  // A key that is pressed at once replaces nothing, and what is typed over everything leaves the link.
  await expect.poll(() => page.evaluate(() => getSelection()!.isCollapsed)).toBe(true)
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Go')
  await expect(frame.locator('#title')).toHaveText(/^Go /)
  await expect(frame.locator('#title a')).toBeVisible()
  await page.getByRole('button', { name: 'Reset' }).click()
  await expect(frame.locator('#title')).toHaveText('Boats to three islands')
  await line.press('Home')
  await line.pressSequentially('Small ')
  await page.keyboard.press('Shift+Home')
  await page.getByRole('button', { name: 'Bold' }).click()
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect(frame.locator('#title b')).toHaveText(/^Small/)
  await expect(frame.locator('#title a')).toHaveAttribute('href', '/book')

  await frame.locator('.lead').click()
  await page.getByLabel('New text').fill('Every day of the year.')
  // It is seen before it is kept.
  await expect(frame.locator('.lead')).toHaveText('Every day of the year.')
  await expect.poll(kinds).toEqual(['richText'])
  await page.getByRole('button', { name: 'Save the text' }).click()

  await open(page, 'Look')
  await page.getByLabel('Type: Size').fill('30')
  await page.getByLabel('Type: Size').press('Tab')
  await expect(frame.locator('.lead')).toHaveCSS('font-size', '30px')

  await open(page, 'Link and attributes')
  await frame.locator('#where').click()
  // What is being typed stays when the change before it has been saved.
  let isTyped = () => {}
  const typed = new Promise<void>((resolve) => (isTyped = resolve))
  await page.route('**/changes', async (route) => {
    await typed
    await route.continue()
  })
  await page.getByLabel('Add a class').fill('warm')
  await page.getByRole('button', { name: 'Add the class' }).click()
  const leadsTo = page.getByLabel('Leads to')
  await leadsTo.fill('javascript:alert(1)')
  await expect(page.getByTestId('save-state')).not.toHaveText('Saved')
  isTyped()
  await saved(page)
  await page.unroute('**/changes')
  await leadsTo.press('Tab')
  await expect(page.getByText('would run a script')).toBeVisible()
  await expect(leadsTo).toHaveValue('javascript:alert(1)')
  await leadsTo.fill('/passes')
  await leadsTo.press('Tab')
  await expect(frame.locator('#where.warm')).toHaveAttribute('href', '/passes')

  await frame.locator('#pier').click()
  await page.getByLabel('Address of the picture').fill('/boat.svg')
  await page.getByLabel('Alt text').first().fill('A boat')
  await page.getByLabel('Alt text').first().press('Tab')
  await expect(frame.locator('#pier')).toHaveAttribute('alt', 'A boat')

  // What is pasted says first what it would do.
  await frame.locator('#side h2').click()
  await open(page, 'HTML')
  const added = page.getByRole('textbox', { name: 'HTML or text to add' })
  await added.click()
  await page.keyboard.insertText('<p id="dogs" onclick="go()">Dogs <a href="/help/dogs">ride free</a></p>')
  await expect(page.getByText('“onclick” would run a script')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Add it' })).toBeDisabled()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('<p id="dogs">Dogs <a href="/help/dogs">ride free</a></p>')
  await expect(page.getByText('a link to /help/dogs')).toBeVisible()
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(frame.locator('h2 + #dogs')).toHaveText('Dogs ride free')

  await open(page, 'Place')
  await frame.locator('#side p').last().click()
  await page.getByRole('button', { name: 'Hide', exact: true }).click()
  await expect(frame.getByText('From 12 euro')).toBeHidden()

  await page.getByRole('button', { name: 'Code', exact: true }).click()
  await page.getByRole('textbox', { name: 'Stylesheet of the variant' }).click()
  await page.keyboard.insertText('#list li { color: rgb(0, 128, 0) }')
  await expect(frame.locator('#list li').first()).toHaveCSS('color', 'rgb(0, 128, 0)')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByRole('button', { name: 'Close', exact: true }).click()

  await saved(page)
  const all = ['richText', 'text', 'style', 'attribute', 'classes', 'image', 'insert', 'hide', 'css']
  expect([...new Set(await kinds())].sort()).toEqual([...all].sort())
  const changed = await html(frame)
  const undo = page.getByRole('button', { name: 'Undo', exact: true })
  while (await undo.isEnabled()) await undo.click()
  await expect.poll(() => html(frame)).toBe(original)
  const redo = page.getByRole('button', { name: 'Redo', exact: true })
  while (await redo.isEnabled()) await redo.click()
  await expect.poll(() => html(frame)).toBe(changed)
  await saved(page)
})

test('elements are dragged, stepped and resized; several are moved as one', async ({ world, page }) => {
  const { frame, read } = await pointAt(world, page)
  const items = frame.locator('#list li')
  await items.nth(2).click()
  await drag(page, await middle(items.nth(2)), {
    ...(await middle(items.nth(0))),
    y: (await items.nth(0).boundingBox())!.y + 1,
  })
  await expect(items).toHaveText(['Little Skell', 'Ennisay', 'Torrin'])
  // By key, counted from the page as it is: one edit.
  await items.nth(0).click()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(items).toHaveText(['Ennisay', 'Little Skell', 'Torrin'])
  await saved(page)
  expect(await read()).toMatchObject([{ kind: 'rearrange', selector: '#list', order: [0, 2, 1] }])

  await frame.locator('.lead').click()
  const corner = await frame.locator('.lead').boundingBox()
  await drag(
    page,
    { x: corner!.x + corner!.width, y: corner!.y + corner!.height / 2 },
    { x: corner!.x + corner!.width - 100, y: corner!.y + corner!.height / 2 },
  )
  await expect.poll(async () => (await frame.locator('.lead').boundingBox())!.width).toBeLessThan(corner!.width - 60)
  // A width that is dragged stays within narrower windows; one that is typed says that it does not.
  await saved(page)
  expect(await read()).toMatchObject([{ kind: 'rearrange' }, { kind: 'style', value: { 'max-width': '100%' } }])
  await page.getByRole('button', { name: 'Look changed' }).click()
  await page.getByLabel('Size: Width').fill('1500px')
  await page.getByLabel('Size: Largest width').fill('none')
  await page.getByLabel('Size: Largest width').press('Tab')
  await expect(page.getByText(/With these edits the page scrolls sideways: it is \d+ px wider/)).toBeVisible()
  await page.getByRole('button', { name: 'Fit it into narrower windows' }).click()
  await expect(page.getByText('With these edits the page scrolls sideways')).toHaveCount(0)
  await expect(page.getByText('a phone’s window 390')).toHaveCount(0)

  await frame.locator('#title').click({ position: { x: 5, y: 5 } })
  await frame.locator('.lead').click({ modifiers: ['Shift'] })
  await expect(page.getByRole('heading', { name: '2 elements' })).toBeVisible()
  const goal = await frame.locator('#side h2').boundingBox()
  await drag(page, await middle(frame.locator('.lead')), { x: goal!.x + 50, y: goal!.y + goal!.height - 2 })
  await expect(frame.locator('#side > *')).toHaveText([
    'Fares',
    'Boats to three islands',
    'All year round.',
    'From 12 euro',
  ])
  await page.getByRole('button', { name: 'Select their container' }).click()
  await expect(page.locator('aside h2').first()).toContainText('section')
  await saved(page)
  expect((await read()).map(({ kind }) => kind)).toEqual(['rearrange', 'style', 'move', 'move'])
})

test('edits are renamed, switched off, reordered, limited to a page, copied and removed; what drifted is told', async ({
  world,
  page,
}) => {
  const { frame, read, target } = await pointAt(world, page)
  const clues = { tag: 'h2', text: 'Fares', before: '', after: 'From 12 euro' }
  const edits: Edit[] = [
    { id: 'edit-0001', kind: 'text', selector: '#gone', clues, original: 'Fares', value: 'Prices' },
    { id: 'edit-0002', kind: 'hide', selector: '.nowhere', keepsSpace: false },
    { id: 'edit-0003', kind: 'style', selector: 'li', value: { color: 'red' }, original: { color: 'black' } },
  ]
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  await fillSheet(world.database, target, { variants: variants.with(1, { ...variants[1]!, edits }) })
  await page.reload()
  const list = page.getByRole('complementary', { name: 'Edits' }).getByRole('listitem')
  await expect(list.nth(0)).toContainText('its text was used')
  await expect(list.nth(1)).toContainText('Not on this page.')
  await expect(list.nth(2)).toContainText('Finds 3 elements')
  await expect(frame.locator('#side h2')).toHaveText('Prices')
  const choose = async (place: number, item: string) => {
    await list
      .nth(place)
      .getByRole('button', { name: /^What to do with/ })
      .click()
    await page.getByRole('menuitem', { name: item }).click()
  }
  await choose(0, 'Rename')
  await page.getByLabel('Name of the edit').fill('Call fares prices')
  await page.getByLabel('Name of the edit').press('Enter')
  await expect(list.nth(0)).toContainText('Call fares prices')
  await choose(0, 'Switch off')
  await expect(frame.locator('#side h2')).toHaveText('Fares')
  await choose(2, 'Apply earlier')
  await choose(1, 'Only on the page that is open')
  await choose(1, 'Copy to Cool')
  await choose(2, 'Remove')
  await saved(page)
  expect(await read()).toMatchObject([
    { id: 'edit-0001', title: 'Call fares prices', isOff: true },
    { id: 'edit-0003', page: { match: 'exact', value: '/' } },
  ])
  expect(await read(2)).toMatchObject([{ kind: 'style', selector: 'li' }])
})

test('an edit that was made before says so once the page changes the text itself', async ({ world, page }) => {
  const script = `addEventListener('click', ({ target }) => {
    if (target.id === 'pier') document.querySelector('.lead').textContent = 'Bog is most liked' })`
  const { frame, target } = await pointAt(world, page, { script })
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edit = {
    id: drawThingId(),
    kind: 'text',
    selector: '.lead',
    original: 'All year round.',
    value: 'Open',
  } as const
  await fillSheet(world.database, target, { variants: variants.with(1, { ...variants[1]!, edits: [edit] }) })
  await page.reload()
  await expect(frame.locator('.lead')).toHaveText('Open')
  const warning = page.getByText('The page changes this text by itself. The edit keeps one wording.')
  await expect(warning).toHaveCount(0)
  await page.getByRole('button', { name: 'Browse' }).click()
  // A page that has just been opened still puts itself together: what it changes then says nothing.
  await expect(async () => {
    await frame.locator('#pier').click()
    await expect(warning).toBeVisible({ timeout: 1000 })
  }).toPass({ timeout: 180_000 })
  await expect(frame.locator('.lead')).toHaveText('Open')
})

test('edits apply to the window widths that are chosen, and each width has its own', async ({ world, page }) => {
  const { frame, read, target } = await pointAt(world, page)
  const lead = frame.locator('.lead')
  const write = async (words: string) => {
    await lead.click()
    await page.getByLabel('New text').fill(words)
  }
  // What was typed before the widths are chosen is for all.
  await write('Every day of the year.')
  await page.getByLabel('Edits apply to').selectOption({ label: 'Phones, below 640 px' })
  await expect(page.getByLabel('Width', { exact: true })).toHaveValue('390')
  await write('Every day.')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await saved(page)
  await expect(lead).toHaveText('Every day.')
  await expect(page.getByText('only in windows below 640 px')).toBeVisible()
  await page.getByLabel('Width', { exact: true }).selectOption({ label: 'Desktop, 1280' })
  await expect(page.getByText('where these edits do not apply')).toBeVisible()
  await expect(lead).toHaveText('Every day of the year.')
  const kept = (await read()).map((edit) => [edit.kind === 'text' && edit.value, edit.widths ?? null])
  expect(kept).toEqual([
    ['Every day of the year.', null],
    ['Every day.', { from: null, below: 640 }],
  ])

  await page.getByLabel('Edits apply to').selectOption({ label: 'Other widths …' })
  await page.getByLabel('From').fill('900')
  await page.getByLabel('Below').fill('700')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(page.getByText('No window is from 900 px and below 700 px wide.')).toBeVisible()
  await page.getByLabel('Below').fill('1400')
  await page.keyboard.press('Enter')
  await page
    .getByRole('button', { name: /^What to do with/ })
    .first()
    .click()
  await page.getByRole('menuitem', { name: 'Only in windows from 900 to 1,399 px' }).click()
  await saved(page)
  expect((await read())[0]!.widths).toEqual({ from: 900, below: 1400 })
  const findings = variantFindings([{ name: 'Warm', edits: await read() }], [], 'https://site.example')
  expect(findings.map(({ text }) => text).join()).toContain('see no change and count too')
  expect((await findSheet(world.database, target.siteId, target.experimentId)).variants[2]!.edits).toEqual([])
})

test('the page can be used to reach another one, and pointing goes on there', async ({ world, page }) => {
  const { frame, heading } = await pointAt(world, page)
  await frame.locator('#other').click()
  await expect(frame.locator('#title')).toContainText('Boats to')
  await page.getByRole('button', { name: 'Browse' }).click()
  await frame.locator('#other').click()
  await expect(frame.locator('#title')).toContainText('Other boats to')
  await expect(page.getByLabel('Page', { exact: true })).toHaveValue('/other')
  await page.getByRole('button', { name: 'Edit' }).click()
  await frame.locator('#side h2').click()
  await expect(heading.first()).toHaveText('heading “Fares”')
  await page.getByRole('button', { name: /^section/ }).click()
  await expect(heading.first()).toContainText('section')
  await page.getByText('Holds 2 elements').click()
  await page.getByRole('button', { name: 'paragraph “From 12 euro”' }).click()
  await expect(heading.first()).toHaveText('paragraph “From 12 euro”')
})

test('a text that the page changes by itself says so, and one that Vetch has changed does not', async ({
  world,
  page,
}) => {
  const script = `let count = 0
    addEventListener('click', ({ target }) => { if (target.id === 'pier') document.querySelector('.lead').textContent = 'Clicked ' + ++count })`
  const { frame, heading } = await pointAt(world, page, { script })
  const warning = page.getByText('The page changes this text by itself.')
  await frame.locator('.lead').click()
  await expect(heading.first()).toHaveText('paragraph “All year round.”')
  await expect(warning).toHaveCount(0)
  await frame.locator('#side h2').click()
  await page.getByLabel('New text').fill('Prices')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect(frame.locator('#side h2')).toHaveText('Prices')
  // A page that has just been opened still puts itself together: what it changes then says nothing.
  await expect(async () => {
    await page.getByRole('button', { name: 'Browse' }).click()
    await frame.locator('#pier').click()
    await page.getByRole('button', { name: 'Edit' }).click()
    await frame.locator('.lead').click()
    await expect(heading.first()).toHaveText(/Clicked/)
    await expect(warning).toBeVisible({ timeout: 500 })
  }).toPass({ timeout: 180_000 })
  await frame.locator('#side h2').click()
  await expect(heading.first()).toHaveText(/Fares|Prices/)
  await expect(warning).toHaveCount(0)
})

test('a page that forbids frames works in a window of its own', async ({ world, page }) => {
  const pointed = pointAt(world, page, { headers: { 'x-frame-options': 'DENY' } }).catch(() => null)
  await expect(page.getByText('The page does not answer.')).toBeVisible()
  const [own] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('button', { name: 'Open the window' }).click(),
  ])
  await expect(page.getByText('The page is open in a window of its own.')).toBeVisible()
  await expect(page.getByText('Click an element or use')).toBeVisible()
  await own.locator('#side h2').click()
  await page.bringToFront()
  await page.getByLabel('New text').fill('Prices')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect(own.locator('#side h2')).toHaveText('Prices')
  await pointed
})

test('an owner can forbid scripts, and then none is added', async ({ world, page }) => {
  const { target, read } = await pointAt(world, page)
  await updateSite(world.database, {} as never, target.siteId, null, { allowsScripts: false })
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edits: Edit[] = [{ id: 'edit-0001', kind: 'script', value: 'go()' }]
  await expect(
    fillSheet(world.database, target, { variants: variants.with(1, { ...variants[1]!, edits }) }),
  ).rejects.toThrow('forbidden scripts')
  await page.reload()
  await page.getByRole('button', { name: 'Code', exact: true }).click()
  await page.getByRole('button', { name: 'Script', exact: true }).click()
  await expect(page.getByText('An owner of the site has forbidden scripts')).toBeVisible()
  expect(await read()).toEqual([])
  await updateSite(world.database, {} as never, target.siteId, null, { allowsScripts: true })
})

test('a page without the script line is pointed at in a copy, which has no say in Vetch', async ({ world, page }) => {
  // What a hostile page would try.
  const script = `window.tried = {}
    try { tried.parent = String(parent.document.title) } catch (error) { tried.parent = error.name }
    try { tried.storage = String(localStorage.length) } catch (error) { tried.storage = error.name }
    fetch('${world.url}/api/account', { credentials: 'include' }).then((reply) => reply.text()).then((text) => (tried.api = text), (error) => (tried.api = error.name))
    parent.postMessage({ vetch: 'made', token: 'x', edits: [{ kind: 'style', selector: 'h1', value: { color: 'red' }, original: {} }] }, '*')`
  const { frame, heading, read } = await pointAt(world, page, { hasLine: false, script })
  await expect(page.getByText('Vetch can open a copy of the page.')).toBeVisible()
  await page.getByRole('button', { name: 'Open a copy' }).click()
  await expect(page.getByText('This is a copy of the page.')).toBeVisible()
  await frame.locator('#side h2').click()
  await expect(heading.first()).toHaveText('heading “Fares”')
  await page.getByLabel('New text').fill('Prices')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect(frame.locator('#side h2')).toHaveText('Prices')
  const tried = () =>
    frame.locator('body').evaluate(() => (window as unknown as { tried: Record<string, string> }).tried)
  await expect.poll(tried).toEqual({ parent: 'SecurityError', storage: 'SecurityError', api: 'TypeError' })
  await page.getByRole('button', { name: 'Browse' }).click()
  await frame.locator('#other').click()
  await expect(frame.locator('#title')).toContainText('Other boats to')
  await expect(page.getByLabel('Page', { exact: true })).toHaveValue('/other')
  await saved(page)
  expect(await read()).toMatchObject([{ kind: 'text', selector: 'h2', value: 'Prices' }])
})

test('a script that cannot be read is not kept, one that throws says so with its line, and so does the preview', async ({
  world,
  page,
  browser,
}) => {
  const { id, frame, read, target } = await pointAt(world, page)
  await page.getByRole('button', { name: 'Code', exact: true }).click()
  await page.getByRole('button', { name: 'Script', exact: true }).click()
  const editor = page.getByRole('textbox', { name: 'Script of the variant' })
  const keep = page.getByRole('region', { name: 'Code of the variant' }).getByRole('button', { name: 'Save' })
  await editor.fill('if (true { brokenSyntax')
  await expect(page.getByText('Line 1, column 10 of the script cannot be read: unexpected token.')).toBeVisible()
  await expect(keep).toBeDisabled()
  await editor.fill('const boats = document.querySelector("#title")\nboats.title = "Seen"\nboats.sail()')
  await keep.click()
  await expect(page.getByRole('alert')).toHaveText(
    'The script failed in line 3: TypeError: boats.sail is not a function',
  )
  await expect(frame.locator('#title')).toHaveAttribute('title', 'Seen')
  await expect.poll(read).toMatchObject([{ kind: 'script' }])

  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Previews' }).click()
  await page.getByRole('button', { name: 'Create a link' }).click()
  await expect(page.getByText('B Warm on /')).toBeVisible()
  const address = await page.evaluate(() => navigator.clipboard.readText())
  const context = await browser.newContext()
  const seen = await context.newPage()
  await seen.goto(address)
  await expect(seen.getByRole('alert')).toHaveText(
    'The script failed in line 3: TypeError: boats.sail is not a function',
  )
  await context.close()
})

test('a value that a property cannot have says so, stays where it was typed, and changes nothing', async ({
  world,
  page,
}) => {
  const { frame, read } = await pointAt(world, page)
  await frame.locator('.lead').click()
  await open(page, 'Look')
  const size = page.getByLabel('Type: Size')
  await size.fill('banana')
  await size.press('Tab')
  await expect(page.getByText('“banana” is no value of font-size.')).toBeVisible()
  await expect(size).toHaveValue('banana')
  await page.getByLabel('CSS', { exact: true }).fill('color: navy;\nline-height: purple')
  await page.getByLabel('CSS', { exact: true }).press('Tab')
  await expect(page.getByText('“purple” is no value of line-height.')).toBeVisible()
  expect(await read()).toEqual([])
  await size.fill('30')
  await size.press('Tab')
  await expect.poll(read).toMatchObject([{ kind: 'style', value: { 'font-size': '30px' } }])
})

test('a page in the frame that makes messages up changes nothing', async ({ world, page }) => {
  const script = `const edit = { kind: 'script', value: 'go()' }
    const token = /vetch-point=(.*)$/.exec(location.hash || window.name)?.[1]
    setInterval(() => {
      parent.postMessage({ vetch: 'made', token, edits: [edit] }, '*')
      parent.postMessage({ vetch: 'made', token: 'x', edits: [{ kind: 'rearrange', selector: 'ul', order: [1, 0] }] }, '*')
      parent.postMessage({ vetch: 'pointed', token, elements: [{ words: '<img src=x onerror=alert(1)>' }] }, '*')
    }, 50)`
  const { frame, heading, read } = await pointAt(world, page, { script })
  const dialogs: string[] = []
  page.on('dialog', (dialog) => (dialogs.push(dialog.message()), dialog.dismiss()))
  await frame.locator('#side h2').evaluate((element) => (element.innerHTML = '<img src=x onerror=alert(1)>Fares'))
  await frame.locator('#side h2').click({ position: { x: 60, y: 5 } })
  await expect(heading.first()).toHaveText('heading “Fares”')
  // Until each of its messages has come twice more.
  await page.evaluate(
    () =>
      new Promise<void>((done) => {
        let left = 6
        addEventListener('message', () => --left === 0 && done())
      }),
  )
  expect(dialogs).toEqual([])
  expect(await read()).toEqual([])
})

test('two people who change the same variant are told, and compare it with the page as it is', async ({
  world,
  page,
  browser,
}) => {
  const { id, frame, target } = await pointAt(world, page)
  const other = await (await browser.newContext()).newPage()
  await (await team(world)).signIn(other, 'owner', `experiments/${id}/point?variant=1`)
  await expect(page.getByText('owner is changing this variant too.')).toBeVisible()
  await expect(other.getByText('editor is changing this variant too.')).toBeVisible()
  await frame.locator('#side h2').click()
  await page.getByRole('button', { name: 'warmer' }).click()
  await expect(page.getByText('No ideas for this text')).toBeVisible()
  await page.getByLabel('New text').fill('Prices')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await saved(page)
  // What one does the other sees.
  await expect(other.frameLocator('iframe').locator('#side h2')).toHaveText('Prices')
  await other.context().close()
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}/compare`)
  await expect(page.frameLocator('iframe').nth(0).locator('#side h2')).toHaveText('Fares')
  await expect(page.frameLocator('iframe').nth(1).locator('#side h2')).toHaveText('Prices')
  await expect(page.getByRole('table')).toContainText('As the page is')
  await expect(page.getByRole('table')).toContainText('Prices')
})

test('two variants side by side are told of a device, by the request and by the browser', async ({ world, page }) => {
  const script = `document.addEventListener('DOMContentLoaded', () => { document.querySelector('.lead').textContent =
    [/Mobile/.test(navigator.userAgent), navigator.maxTouchPoints, navigator.language, 'ontouchstart' in window,
      matchMedia('(pointer: coarse)').matches, matchMedia('(hover: hover) and (min-width: 1px)').matches, screen.width].join() })`
  const { id, target } = await pointAt(world, page, { script, echoes: true })
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edits: Edit[] = [{ id: 'edit-told-1', kind: 'text', selector: '#side h2', original: 'Fares', value: 'Prices' }]
  await fillSheet(world.database, target, { variants: [variants[0]!, { ...variants[1]!, edits }] })
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}/compare?width=390`)
  const [one, other] = [0, 1].map((index) => page.frameLocator('iframe').nth(index))
  await expect(one!.locator('.lead')).toContainText('false,')
  await page.getByLabel('Emulate that device').check()
  for (const frame of [one!, other!]) {
    await expect(frame.locator('.lead')).toHaveText('true,5,en,true,true,false,390')
    await expect(frame.locator('#asked')).toHaveText(/Mobile Safari.* en$/)
  }
  await expect(one!.locator('#side h2')).toHaveText('Fares')
  await expect(other!.locator('#side h2')).toHaveText('Prices')
  await page.getByLabel('Language').fill('Klingon')
  await page.getByLabel('Language').press('Enter')
  await expect(page.getByText('Type a language such as en or de-AT.')).toBeVisible()
  await page.getByLabel('Language').fill('de-AT')
  await page.getByLabel('Language').press('Enter')
  await page.getByLabel('Width').selectOption('1280')
  await expect(one!.locator('.lead')).toHaveText('false,0,de-AT,false,false,true,1280')
  await expect(one!.locator('#asked')).toHaveText(/Linux x86_64.* de-AT$/)
  await expect(page.getByTestId('told')).toContainText('no touch, 1280 × 800 pixels, language de-AT')
  await expect(page).toHaveURL(/told=de-AT/)
})

test('what visitors do with an element becomes a metric of the sheet', async ({ world, page }) => {
  const { frame, target } = await pointAt(world, page)
  await frame.locator('#other').click()
  await open(page, 'Measure')
  await page.getByRole('button', { name: 'Measure it' }).first().click()
  await page.getByRole('button', { name: 'Measure it' }).click()
  await expect(page.getByText('is measured', { exact: true })).toHaveCount(2)
  await saved(page)
  const { metrics } = await findSheet(world.database, target.siteId, target.experimentId)
  expect(metrics.slice(1)).toMatchObject([
    { name: 'Clicks: link “Another page”', role: 'secondary', source: { type: 'click', selector: '#other' } },
    { name: 'Reached: /other', source: { type: 'visit', page: { match: 'exact', value: '/other' } } },
  ])
})

test('what is wrong with a draft is told on its sheet before it can start', async ({ world, page }) => {
  const { id, target } = await pointAt(world, page)
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const hidden = (selector: string) => ({ id: drawThingId(), kind: 'hide' as const, selector, keepsSpace: false })
  await fillSheet(world.database, target, {
    metrics: [
      primaryMetric('Start', 'conversion', { type: 'visit', page: { match: 'exact', value: '/' } }),
      {
        ...primaryMetric('Bare', 'conversion', { type: 'visit', page: { match: 'exact', value: '/bare' } }),
        role: 'secondary',
      },
    ],
    variants: [
      variants[0]!,
      { ...variants[1]!, edits: [hidden('#side h2'), hidden('.nowhere')] },
      { ...variants[2]!, edits: [{ id: 'edit-redirect', kind: 'redirect', value: '/missing' }] },
    ],
  })
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  for (const text of [
    'The metric counts visits of the tested page itself',
    'Warm: it changes 2 separate things: #side h2, .nowhere.',
    '.nowhere is not on /, as the page is served',
    'Cool: the page that it sends visitors to does not answer as it should.',
    'The script line is not on /bare',
    'No visitor saw these pages in the last four weeks.',
  ])
    await expect(page.getByText(text).first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start …' })).toBeDisabled()
})

test('a variant is copied with its edits, and another sends its visitors to another page', async ({ world, page }) => {
  const { id, target, read } = await pointAt(world, page)
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edits: Edit[] = [{ id: 'edit-0001', kind: 'hide', selector: '.lead', keepsSpace: false }]
  await fillSheet(world.database, target, { variants: variants.with(1, { ...variants[1]!, edits }) })
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Copy Warm' }).click()
  await page.getByRole('button', { name: 'Send visitors to another page' }).click()
  await page.getByLabel('Visitors go to').fill('other')
  await page.getByLabel('Visitors go to').press('Tab')
  await expect(page.getByText('Type a path that begins with a slash')).toBeVisible()
  await page.getByLabel('Visitors go to').fill('/other')
  await page.getByLabel('Visitors go to').press('Tab')
  await saved(page)
  expect(await read(3)).toMatchObject([{ kind: 'hide', selector: '.lead' }])
  expect((await read(3))[0]!.id).not.toBe('edit-0001')
  expect(await read(2)).toMatchObject([{ kind: 'redirect', value: '/other' }])
})

test('a preview link shows the variant through the visit of somebody else, uncounted, until it is ended', async ({
  world,
  page,
  browser,
}) => {
  const { id, target } = await pointAt(world, page)
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edits: Edit[] = [{ id: 'edit-0001', kind: 'text', selector: '#side h2', original: 'Fares', value: 'Prices' }]
  await fillSheet(world.database, target, {
    variants: variants.with(1, { ...variants[1]!, edits }),
    pageRules: [{ match: 'begins', value: '/' }],
  })
  const views = () => world.database.$count(pageView, eq(pageView.siteId, target.siteId))
  const before = await views()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Previews' }).click()
  await page.getByLabel('Holds for').fill('90')
  await page.getByRole('button', { name: 'Create a link' }).click()
  await expect(page.getByRole('alert').getByText('at most 30 days')).toBeVisible()
  await page.getByLabel('Holds for').fill('2')
  await page.getByRole('button', { name: 'Create a link' }).click()
  await expect(page.getByText('B Warm on /')).toBeVisible()
  const link = await page.evaluate(() => navigator.clipboard.readText())

  const colleague = await (await browser.newContext()).newPage()
  await colleague.goto(link)
  const heading = colleague.locator('#side h2')
  await expect(heading).toHaveText('Prices')
  await expect(colleague.getByText('Preview of “Pointed”')).toBeVisible()
  await colleague.locator('#other').click()
  await expect(colleague).toHaveURL(/other/)
  await expect(heading).toHaveText('Prices')
  await colleague.getByLabel('Variant').selectOption('A Control')
  await expect(heading).toHaveText('Fares')
  await colleague.getByLabel('Variant').selectOption('B Warm')
  await expect(heading).toHaveText('Prices')
  await colleague.getByRole('button', { name: 'Leave the preview' }).click()
  await expect(heading).toHaveText('Fares')
  await expect(colleague.getByText('Preview of')).toHaveCount(0)
  const left = await views()
  expect(left).toBeLessThanOrEqual(before + 1)

  await colleague.goto(link)
  await expect(heading).toHaveText('Prices')
  await page.getByRole('button', { name: 'End it' }).click()
  await expect(page.getByText('The link has ended.')).toBeVisible()
  await colleague.locator('#other').click()
  await expect(heading).toHaveText('Fares')
  await expect(colleague.getByText('Preview of')).toHaveCount(0)
  expect(await colleague.evaluate(() => window.name)).toBe('')
  const forged = `${link.slice(0, -3)}xyz`
  await colleague.goto('about:blank')
  await colleague.goto(forged)
  await expect(heading).toHaveText('Fares')
  await colleague.context().close()
})

test('pictures of a variant are taken in the background, and what looks wrong is marked in them', async ({
  world,
  page,
}) => {
  const { id, target } = await pointAt(world, page)
  const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
  const edits: Edit[] = [
    {
      id: 'edit-0001',
      kind: 'style',
      selector: '#side h2',

      value: { color: '#cccccc' },
      original: { color: '' },
    },
  ]
  await fillSheet(world.database, target, { variants: [variants[0]!, { ...variants[1]!, edits }] })
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByLabel('Language').fill('Klingon')
  await page.getByRole('button', { name: 'Take pictures' }).click()
  await expect(page.getByText('Type a language such as en or de-AT.')).toBeVisible()
  await page.getByLabel('Language').fill('de')
  await page.getByRole('button', { name: 'Take pictures' }).click()
  await expect(page.getByText('Taking pictures …')).toBeVisible()
  const phone = page.getByRole('button', { name: 'Open the picture of Warm, phone' })
  await expect(phone).toContainText('1 thing looks wrong', { timeout: 180_000 })
  await phone.click()
  const dialog = page.getByRole('dialog', { name: 'Warm, phone, /' })
  await expect(dialog.getByText('“Fares” has a contrast of 1.6 to 1')).toBeVisible()
  await expect(dialog.getByText('390 × 844 pixels, touch')).toBeVisible()
  await expect(dialog.getByText('Language de')).toBeVisible()
  const width = () => dialog.getByRole('img').evaluate((image) => (image as HTMLImageElement).naturalWidth)
  await expect.poll(width).toBe(390)
})

test('a metric is chosen from those of the site or from what arrives, and shows what it counts', async ({
  world,
  page,
}) => {
  const { id, target } = await pointAt(world, page)
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Add a metric' }).click()
  const dialog = page.getByRole('dialog', { name: 'Add a metric' })
  await dialog.getByLabel('Search').fill('sent a')
  const arrived = dialog.getByRole('region', { name: 'From what arrives' })
  await arrived.getByRole('button', { name: 'See what it counts' }).click()
  await expect(arrived.getByText('It counted nothing lately.')).toBeVisible()
  await arrived.getByRole('button', { name: 'Add Sent a form' }).click()
  await saved(page)
  await page.getByRole('button', { name: 'Add a metric' }).click()
  await dialog.getByRole('button', { name: 'Add Bounce rate' }).click()
  await page.getByRole('button', { name: 'Add a metric' }).click()
  await dialog.getByRole('button', { name: 'Add Time in view' }).click()
  const measured = page.locator('#measured')
  await measured.getByLabel('On', { exact: true }).selectOption('some')
  await measured.getByLabel('Path').fill('/book')
  await measured.getByLabel('Path').blur()
  const cap = measured.getByLabel('Cap per visitor')
  await cap.fill('much')
  await cap.blur()
  await expect(measured).toContainText('Type the most that a visitor counts as, or nothing.')
  await cap.fill('600')
  await cap.blur()
  await saved(page)
  const { metrics } = await findSheet(world.database, target.siteId, target.experimentId)
  expect(metrics.map(({ name, role }) => `${name}, ${role}`)).toEqual([
    ...['Orders, primary', 'Sent a form, secondary', 'Bounce rate, secondary', 'Time in view, secondary'],
  ])
  expect(metrics[2]).toMatchObject({
    kind: 'ratio',
    direction: 'down',

    source: { type: 'bounces' },
    denominator: { type: 'visits' },
  })
  expect(metrics[3]).toMatchObject({
    source: { type: 'timeInView', page: { match: 'begins', value: '/book' } },
    cap: 600,
  })

  await page.goto(`${world.url}/sites/${target.siteId}/setup/metrics`)
  await page.getByRole('button', { name: 'Sent a form' }).click()
  const drawer = page.getByRole('dialog', { name: 'Sent a form' })
  await expect(drawer.getByRole('link', { name: 'Pointed' }).first()).toBeVisible()
  await drawer.getByLabel('Name, wherever it is used').fill('Any form')
  await drawer.getByRole('button', { name: 'Rename' }).click()
  await expect(page.getByRole('dialog', { name: 'Any form' })).toHaveCount(1)
})

test('a pinned device shows what is chosen for it, on every visit and while the draft changes, until it is unpinned', async ({
  world,
  page,
  browser,
}) => {
  const { id, target } = await pointAt(world, page)
  const setWords = async (value: string) => {
    const { variants } = await findSheet(world.database, target.siteId, target.experimentId)
    const edits: Edit[] = [{ id: 'edit-0001', kind: 'text', selector: '#side h2', original: 'Fares', value }]
    await fillSheet(world.database, target, { variants: variants.with(1, { ...variants[1]!, edits }) })
  }
  await setWords('Prices')
  const views = () => world.database.$count(pageView, eq(pageView.siteId, target.siteId))
  const before = await views()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Previews' }).click()
  await page.getByRole('button', { name: 'Pin a device' }).click()
  await expect(page.getByText('Give the device a name.').first()).toBeVisible()
  await page.getByLabel('Name of a device').fill('My phone')
  await page.getByRole('button', { name: 'Pin a device' }).click()
  await expect(page.getByText('Not opened yet')).toBeVisible()
  const link = await page.evaluate(() => navigator.clipboard.readText())

  const context = await browser.newContext()
  const phone = await context.newPage()
  await phone.goto(link)
  const heading = phone.locator('#side h2')
  await expect(phone.getByText('Pinned as “My phone”: shows the page as it is.')).toBeVisible()
  await expect(heading).toHaveText('Fares')
  await page.getByLabel('My phone shows').selectOption('B Warm')
  await expect(page.getByText('My phone shows it from its next page.')).toBeVisible()

  // Another visit, in a tab of its own and without the link.
  await phone.close()
  const later = await context.newPage()
  await later.goto(new URL(link).origin)
  await expect(later.locator('#side h2')).toHaveText('Prices')
  await expect(later.getByText('Pinned as “My phone”: “Warm” of “Pointed”.')).toBeVisible()
  await setWords('What it costs')
  await later.reload()
  await expect(later.locator('#side h2')).toHaveText('What it costs')
  expect(await views()).toBe(before)

  await later.getByRole('button', { name: 'Unpin this device' }).click()
  await expect(later.locator('#side h2')).toHaveText('Fares')
  await expect(later.getByText('Pinned as')).toHaveCount(0)
  // Pinned again, and ended from Vetch.
  await later.goto('about:blank')
  await later.goto(link)
  await expect(later.locator('#side h2')).toHaveText('What it costs')
  await page.getByRole('button', { name: 'Unpin My phone' }).click()
  await expect(page.getByText('My phone is unpinned.')).toBeVisible()
  await later.goto(`${new URL(link).origin}/?again`)
  await expect(later.locator('#side h2')).toHaveText('Fares')
  expect(await later.evaluate(() => localStorage.getItem('vetch_pin'))).toBeNull()
})
