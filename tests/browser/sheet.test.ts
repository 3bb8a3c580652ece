import { expect, type Browser, type Locator, type Page } from '@playwright/test'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved, type Team } from './team'
import { test, type World } from './world'

let prepared: Promise<Team> | undefined
const team = (world: World) => (prepared ??= createTeam(world, 'sheet'))
const CHANGES = '**/api/sites/*/experiments/*/changes'

/** A draft that could start. */
async function newDraft(
  world: World,
  name: string,
): Promise<{ id: number; path: string; read: () => ReturnType<typeof findSheet> }> {
  const { database } = world
  const { siteId } = await team(world)
  const { id } = await createExperiment(database, siteId, null, name)
  await fillSheet(
    database,
    { siteId, experimentId: id, personId: null },
    {
      pageRules: [{ match: 'exact', value: '/' }],
      plan: PLAN,
      metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
      variants: [
        { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
        {
          id: 'variant-b',
          name: 'Warm',
          weight: 1,
          edits: [{ id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' }],
        },
      ],
    },
  )
  return { id, path: `experiments/${id}`, read: () => findSheet(database, siteId, id) }
}
async function openTab(browser: Browser, world: World, path: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage()
  await (await team(world)).signIn(page, 'owner', path)
  await expect(page.getByTestId('save-state')).toBeVisible()
  return page
}
/** Goes to another sheet without loading the application anew. */
async function follow(page: Page, name: string): Promise<void> {
  await page.getByRole('navigation').getByRole('link', { name: 'Experiments' }).click()
  await page.getByRole('link', { name, exact: true }).click()
  await expect(page.getByLabel('Name of the experiment')).toHaveValue(name)
}
async function write(page: Page, label: string | RegExp, value: string): Promise<void> {
  await page.getByLabel(label).fill(value)
  await page.getByLabel(label).blur()
}

test('undo and redo belong to one experiment, go step by step, and survive going elsewhere', async ({
  world,
  page,
}) => {
  const [first, second] = [await newDraft(world, 'Undone'), await newDraft(world, 'Left alone')]
  const before = await second.read()
  await (await team(world)).signIn(page, 'editor', first.path)
  await page.getByRole('button', { name: 'Add a variant' }).click()
  await write(page, 'Name of variant C', 'Third')
  await write(page, 'Weight of Third', '3')
  await page.getByRole('button', { name: 'Remove Third' }).click()
  await follow(page, 'Left alone')
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled()
  await page.getByRole('button', { name: 'Undo: Removed Third.' }).click()
  await expect.poll(async () => (await first.read()).variants[2]).toMatchObject({ name: 'Third', weight: 3 })
  expect(await second.read()).toEqual(before)

  await follow(page, 'Undone')
  await expect(page.getByLabel('Name of variant C')).toHaveValue('Third')
  for (const [name, weight] of [
    ['Third', '1'],
    ['Variant C', '1'],
  ] as const) {
    await page.keyboard.press('Control+z')
    await expect(page.getByLabel('Name of variant C')).toHaveValue(name)
    await expect(page.getByLabel(`Weight of ${name}`)).toHaveValue(weight)
  }
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('Name of variant C')).toBeHidden()
  await page.reload()
  await expect(page.getByTestId('save-state')).toBeVisible()
  for (let times = 0; times < 3; times++) await page.keyboard.press('Control+Shift+z')
  await expect(page.getByLabel('Weight of Third')).toHaveValue('3')
  await saved(page)
  expect((await first.read()).variants[2]).toMatchObject({ name: 'Third', weight: 3 })
})

test('a wrong field keeps nothing else from being saved, and stays through a reload', async ({ world, page }) => {
  const draft = await newDraft(world, 'Wrong fields')
  await (await team(world)).signIn(page, 'editor', draft.path)
  const measured = page.locator('#measured')
  await write(page, 'Weight of Warm', 'two')
  await expect(page.getByText('Give the variant a weight.')).toBeVisible()
  await page.getByRole('button', { name: 'Add a variant' }).click()
  await write(page, 'Name of variant B', '')
  await write(page, 'Weight of Variant C', '4')
  await measured.getByRole('button', { name: 'Add a metric' }).click()
  await page.getByRole('button', { name: 'Write a new one' }).click()
  await measured.getByLabel('Name', { exact: true }).fill('Half')
  await measured.getByRole('button', { name: /Orders, primary/ }).click()
  await measured.getByLabel('Name', { exact: true }).fill('Orders, renamed')
  await measured.getByLabel('Name', { exact: true }).blur()
  await expect(page.getByTestId('save-state')).toHaveText('3 things are not saved yet.')
  await expect
    .poll(async () => {
      const { variants, metrics } = await draft.read()
      return [variants.map(({ name, weight }) => [name, weight]), metrics.map(({ name }) => name)]
    })
    .toEqual([
      [
        ['Control', 1],
        ['Warm', 1],
        ['Variant C', 4],
      ],
      ['Orders, renamed'],
    ])

  await page.reload()
  await expect(page.getByLabel('Weight of Warm')).toHaveValue('two')
  await expect(page.getByLabel('Name of variant B')).toHaveValue('')
  await expect(page.getByText('Give the variant a name.')).toBeVisible()
  await expect(measured.getByLabel('Name', { exact: true })).toHaveValue('Half')
  await measured.getByLabel('Path').fill('/book/done')
  await measured.getByLabel('Path').blur()
  await write(page, 'Weight of Warm', '2')
  await write(page, 'Name of variant B', 'Hot')
  await saved(page)
  expect(await draft.read()).toMatchObject({
    variants: [{}, { name: 'Hot', weight: 2 }, {}],
    metrics: [{}, { name: 'Half', role: 'secondary' }],
  })
})

test('a slow save neither follows to another sheet nor lets a start pass it', async ({ world, page }) => {
  const [slow, other] = [await newDraft(world, 'Slow'), await newDraft(world, 'Other')]
  await (await team(world)).signIn(page, 'editor', slow.path)
  let release = () => {}
  const held = new Promise<void>((go) => (release = go))
  await page.route(CHANGES, async (route) => {
    await held
    await route.continue()
  })
  await page.locator('#decided').getByLabel('Longest run').fill('9')
  await page.locator('#decided').getByLabel('Longest run').blur()
  await expect(page.getByTestId('save-state')).toHaveText('Saving …')
  await expect(page.getByRole('button', { name: 'Start …' })).toBeDisabled()
  await follow(page, 'Other')
  release()
  await expect.poll(async () => (await slow.read()).plan.longestWeeks).toBe(9)
  await expect(page.getByLabel('Name of the experiment')).toHaveValue('Other')
  await follow(page, 'Slow')
  await page.getByRole('button', { name: 'Start …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Start' }).click()
  await expect(page.getByText('Started. Visitors get it within 10 seconds.')).toBeVisible()
  expect(await slow.read()).toMatchObject({ state: 'running', plan: { longestWeeks: 9 } })
  expect((await other.read()).version).toBe(2)
})

test('without a network changes wait on the device, also through a reload, and are saved once it is back', async ({
  world,
  page,
}) => {
  const draft = await newDraft(world, 'Away')
  await (await team(world)).signIn(page, 'editor', draft.path)
  await page.route(CHANGES, (route) => route.abort())
  await write(page, 'Because we saw', 'Typed while Vetch was away.')
  await write(page, 'Name of variant B', 'Hot')
  await expect(page.getByTestId('save-state')).toContainText('Not saved: Vetch cannot be reached.')
  await page.reload()
  await expect(page.getByLabel('Because we saw')).toHaveValue('Typed while Vetch was away.')
  await expect(page.getByLabel('Name of variant B')).toHaveValue('Hot')
  await expect(page.getByTestId('save-state')).toContainText('Not saved')
  expect((await draft.read()).hypothesis).toBe('')
  await page.unroute(CHANGES)
  await saved(page)
  expect(await draft.read()).toMatchObject({
    hypothesis: 'Typed while Vetch was away.',
    variants: [{}, { name: 'Hot' }],
  })
})

test('an answer that is lost does not make a change twice', async ({ world, page }) => {
  const draft = await newDraft(world, 'Lost answer')
  await (await team(world)).signIn(page, 'editor', draft.path)
  let lost = 0
  await page.route(CHANGES, async (route) => {
    if (lost++ > 0) return route.continue()
    await route.fetch()
    await route.abort()
  })
  await page.getByRole('button', { name: 'Add a variant' }).click()
  await saved(page)
  expect((await draft.read()).variants).toHaveLength(3)
  expect(lost).toBeGreaterThan(1)
})

test('text that was typed and not left survives a reload and a link', async ({ world, page }) => {
  const [draft] = [await newDraft(world, 'Half typed'), await newDraft(world, 'Elsewhere')]
  await (await team(world)).signIn(page, 'editor', draft.path)
  await page.getByLabel('Because we saw').fill('Because of')
  await page.reload()
  await expect(page.getByLabel('Because we saw')).toHaveValue('Because of')
  await page.getByLabel('Because we saw').press('End')
  await page.keyboard.type(' that')
  await page.getByLabel('Name of variant B').press('End')
  await page.keyboard.type('er')
  await follow(page, 'Elsewhere')
  await follow(page, 'Half typed')
  await expect(page.getByLabel('Name of variant B')).toHaveValue('Warmer')
  await saved(page)
  expect(await draft.read()).toMatchObject({ hypothesis: 'Because of that', variants: [{}, { name: 'Warmer' }] })
})

test('what somebody else changes shows at once; of two versions of one field both are shown, with a choice', async ({
  world,
  browser,
}) => {
  const draft = await newDraft(world, 'Two people')
  const [mine, theirs] = [await openTab(browser, world, draft.path), await openTab(browser, world, draft.path)]
  await write(theirs, 'Weight of Warm', '5')
  await expect(mine.getByLabel('Weight of Warm')).toHaveValue('5')
  const conflict = mine.getByText('Somebody else changed this to “Theirs”. Your change is not saved.')
  for (const [label, choice] of [
    ['Name of variant B', 'Use mine'],
    ['Because we saw', 'Use theirs'],
  ] as const) {
    await mine.getByLabel(label).fill('Mine')
    await write(theirs, label, 'Theirs')
    await expect(conflict).toBeVisible()
    await expect(mine.getByRole('textbox', { name: label })).toHaveValue('Mine')
    await mine.getByRole('button', { name: `${choice}: ${label}` }).click()
    await expect(conflict).toBeHidden()
  }
  await expect(mine.getByLabel('Because we saw')).toHaveValue('Theirs')
  await saved(mine)
  await expect(theirs.getByLabel('Name of variant B')).toHaveValue('Mine')
  // What was taken over by somebody else cannot be undone from here any more.
  await theirs.keyboard.press('Control+z')
  await theirs.keyboard.press('Control+z')
  await expect(theirs.getByText('This has been changed since')).toBeVisible()
  expect(await draft.read()).toMatchObject({ variants: [{}, { name: 'Mine', weight: 5 }] })
  for (const page of [mine, theirs]) await page.context().close()
})

test('what is undone beneath a field that is not finished is no change of somebody else', async ({
  world,
  browser,
}) => {
  const draft = await newDraft(world, 'Undone beneath')
  const page = await openTab(browser, world, draft.path)
  await page.getByRole('button', { name: 'Change the terms' }).click()
  await page.getByLabel('Take the changes back when the audience no longer holds').check()
  await saved(page)
  // An element that is not named yet cannot be saved.
  await page.getByLabel('Takes effect').selectOption('once an element is there')
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click()
  await expect.poll(async () => (await draft.read()).terms.leaves).toBe(false)
  await page.reload()
  await expect(page.getByText('Somebody else changed this')).toHaveCount(0)
  await page.getByRole('button', { name: 'Change the terms' }).click()
  await page.getByLabel('Element (CSS selector)').fill('#later')
  await page.getByLabel('Element (CSS selector)').press('Tab')
  await expect.poll(async () => (await draft.read()).terms.activation).toEqual({ on: 'element', selector: '#later' })
  await page.context().close()
})

test('a draft cannot be started before its pages and traffic were checked', async ({ world, browser }) => {
  const draft = await newDraft(world, 'Looked at first')
  const page = await openTab(browser, world, draft.path)
  let letGo = () => {}
  const isHeld = new Promise<void>((resolve) => (letGo = resolve))
  await page.route('**/preflight', async (route) => {
    await isHeld
    await route.continue()
  })
  await page.reload()
  const start = page.getByRole('button', { name: 'Start …' })
  await expect(page.getByText('Checking pages and traffic …')).toBeVisible()
  await expect(start).toBeDisabled()
  letGo()
  await expect(start).toBeEnabled()
  await page.context().close()
})

test('a start elsewhere shows within seconds, and what came too late is told and can be thrown away', async ({
  world,
  browser,
}) => {
  const draft = await newDraft(world, 'Started elsewhere')
  const page = await openTab(browser, world, draft.path)
  await page.route(CHANGES, (route) => route.abort())
  await write(page, 'Name of variant B', 'Too late')
  await expect(page.getByTestId('save-state')).toContainText('Not saved')
  const { siteId } = await team(world)
  await moveExperiment(world.database, { siteId, experimentId: draft.id, personId: null }, 'start')
  await expect(page.getByText('What happened')).toBeVisible()
  await page.unroute(CHANGES)
  await expect(page.getByText('“Warm” became “Too late”')).toBeVisible()
  await expect(page.getByText('are frozen since the start').first()).toBeVisible()
  await page.getByRole('button', { name: 'Discard' }).click()
  await saved(page)
  expect((await draft.read()).variants[1]!.name).toBe('Warm')
  await page.context().close()
})

test('what is typed while pointing is not lost by pointing elsewhere, by Escape in a dialog, or by leaving', async ({
  world,
  page,
}) => {
  const draft = await newDraft(world, 'Pointed')
  const key = (await findSite(world.database, (await team(world)).siteId)).key
  await world.serveDemo({ scriptLine: scriptLine(world.url, key) })
  await (await team(world)).signIn(page, 'editor', `${draft.path}/point?variant=1`)
  const site = page.frameLocator('iframe')
  const text = page.getByLabel('New text')
  await expect(page.getByText('Click an element or use')).toBeVisible()
  await site.locator('#promo-pass').click()
  const before = await text.inputValue()
  await text.fill('First, not applied')
  await site.locator('.lead').first().click()
  await expect(site.locator('#promo-pass')).toHaveText('First, not applied')
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog').getByRole('combobox')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page).toHaveURL(/point/)
  await text.fill('Second, not applied')
  await page.reload()
  await expect(page.getByText('Click an element or use')).toBeVisible()
  await expect
    .poll(async () => (await draft.read()).variants[1]!.edits.map((edit) => 'value' in edit && edit.value))
    .toEqual(['New', 'First, not applied', 'Second, not applied'])
  expect(before).not.toBe('')
  await site.locator('select').first().click()
  await expect(page.getByRole('heading', { name: /^choice/ })).toBeVisible()
  await expect(text).toHaveCount(0)
})

test('what one person has not saved is neither shown to nor sent by the next in the same tab', async ({
  world,
  page,
}) => {
  const draft = await newDraft(world, 'Handed over')
  const { signIn } = await team(world)
  await signIn(page, 'editor', draft.path)
  await page.route(CHANGES, (route) => route.abort())
  await write(page, 'Name of variant B', 'Of the editor')
  await page.getByLabel('Because we saw').fill('Of the editor')
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByLabel('Password')).toBeVisible()
  await page.unroute(CHANGES)
  await page.getByLabel('E-mail address').fill('owner@sheet.example')
  await page.getByLabel('Password').fill('a-long-enough-password')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await follow(page, 'Handed over')
  await expect(page.getByLabel('Name of variant B')).toHaveValue('Warm')
  await expect(page.getByLabel('Because we saw')).toHaveValue('')
  await saved(page)
  expect(await draft.read()).toMatchObject({ version: 2, hypothesis: '', variants: [{}, { name: 'Warm' }] })
})

test('what was being written when the experiment started is told, and the sheet shows what runs', async ({
  world,
  browser,
}) => {
  const draft = await newDraft(world, 'Frozen while typing')
  const page = await openTab(browser, world, draft.path)
  await page.getByRole('button', { name: 'Add a variant' }).click()
  await write(page, 'Weight of Variant C', 'many')
  await page.getByRole('button', { name: 'Remove Variant C' }).click()
  // What was typed of a thing that is gone keeps nothing from starting.
  await saved(page)
  await page.getByLabel('Name of variant B').fill('Half')
  const { siteId } = await team(world)
  await moveExperiment(world.database, { siteId, experimentId: draft.id, personId: null }, 'start')
  await expect(page.getByText('“Warm” became “Half”')).toBeVisible()
  await expect(page.locator('#what')).toContainText('Warm')
  await page.getByRole('button', { name: 'Discard' }).click()
  await saved(page)
  await page.context().close()
})

/** Fields of every section, with values as they are typed; a choice is named by its value. */
const FIELDS: readonly [name: string, find: (page: Page) => Locator, values: readonly string[]][] = [
  ['name', (page) => page.getByLabel('Name of the experiment'), ['Random', 'Drawn', 'By chance']],
  ['hypothesis', (page) => page.getByLabel('Because we saw'), ['', 'We saw much.', 'Nobody\nsaw it.']],
  ['variant', (page) => page.getByLabel('Name of variant B'), ['Warm', 'Loud', 'Kind']],
  ['weight', (page) => page.locator('#who fieldset input').nth(1), ['1', '2', '30']],
  ['match', (page) => page.locator('#who').getByLabel('Address', { exact: true }), ['exact', 'begins']],
  ['path', (page) => page.locator('#who').getByLabel('Path'), ['/', '/book', '/help/fares']],
  ['share', (page) => page.getByLabel('Traffic share'), ['100', '50', '12.5']],
  ['metric', (page) => page.locator('#measured').getByLabel('Name', { exact: true }), ['Orders', 'Sales']],
  ['event', (page) => page.locator('#measured').getByLabel('Name of the event'), ['order', 'sale', 'checkout']],
  ['better', (page) => page.locator('#measured').getByLabel('Better is'), ['up', 'down']],
  ['lift', (page) => page.getByLabel('Smallest worthwhile lift'), ['5', '7.5', '20']],
  ['rate', (page) => page.getByLabel('Expected rate of the control'), ['5', '3.2', '40']],
  ['visitors', (page) => page.getByLabel('Planned visitors'), ['20000', '1234']],
  [
    'rule',
    (page) => page.locator('#decided').getByLabel('Rule', { exact: true }),
    ['spending', 'sequential', 'fixed', 'low-risk'],
  ],
  ['least', (page) => page.getByLabel('Least run'), ['2', '1', '3']],
  ['longest', (page) => page.getByLabel('Longest run'), ['6', '4', '8']],
]

test('random edits of every field with undo and redo leave what the model says, also after a reload', async ({
  world,
  page,
}) => {
  test.slow()
  const draft = await newDraft(world, 'Random')
  await (await team(world)).signIn(page, 'editor', draft.path)
  await expect(page.getByTestId('save-state')).toBeVisible()
  const model = new Map(FIELDS.map(([name, , values]) => [name, values[0]!]))
  let undone: [name: string, from: string, to: string][] = []
  const done: typeof undone = []
  let seed = 11
  const draw = (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below
  const step = async (which: 'Undo' | 'Redo') => page.getByRole('button', { name: which, exact: true }).click()
  for (let count = 0; count < 3 * FIELDS.length; count++) {
    const turn = draw(10)
    if (turn < 2 && done.length > 0) {
      const last = done.pop()!
      await step('Undo')
      model.set(last[0], last[1])
      undone.push(last)
    } else if (turn < 4 && undone.length > 0) {
      const next = undone.pop()!
      await step('Redo')
      model.set(next[0], next[2])
      done.push(next)
    } else {
      // Every field has its turn before chance decides.
      const [name, find, values] = FIELDS[count < FIELDS.length ? count : draw(FIELDS.length)]!
      const from = model.get(name)!
      const others = values.filter((value) => value !== from)
      const to = others[draw(others.length)]!
      const field = find(page)
      if (await field.evaluate((element) => element instanceof HTMLSelectElement)) await field.selectOption(to)
      else {
        await field.fill(to)
        await field.blur()
      }
      model.set(name, to)
      done.push([name, from, to])
      undone = []
    }
  }
  await saved(page)
  const shown = async () =>
    new Map(await Promise.all(FIELDS.map(async ([name, find]) => [name, await find(page).inputValue()] as const)))
  expect(await shown()).toEqual(model)
  await page.reload()
  await expect(page.getByTestId('save-state')).toBeVisible()
  expect(await shown()).toEqual(model)
})

test('whoever is asked to approve says what should change, and the start waits for it', async ({
  world,
  page,
  browser,
}) => {
  const { path } = await newDraft(world, 'Approved')
  await (await team(world)).signIn(page, 'editor', path)
  const review = page.locator('#review')
  await review.getByRole('button', { name: 'Ask for approval' }).click()
  await review.getByLabel('Who should approve').selectOption('viewer')
  await review.getByRole('button', { name: 'Ask', exact: true }).click()
  await expect(review.getByText('has not answered yet')).toBeVisible()

  const other = await (await browser.newContext()).newPage()
  await (await team(world)).signIn(other, 'viewer', path)
  await other.getByRole('button', { name: 'Ask for changes' }).click()
  await expect(other.getByText('Say what should change.').first()).toBeVisible()
  await other.getByRole('textbox', { name: 'Comment' }).first().fill('Too loud.')
  await other.getByRole('button', { name: 'Ask for changes' }).click()
  await expect(other.locator('#review').getByText('asks for changes')).toBeVisible()

  await page.reload()
  await expect(page.getByText('viewer asks for changes: Too loud.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start …' })).toBeDisabled()
  await review.getByRole('button', { name: 'Ask viewer again' }).click()
  await expect(review.getByText('has not answered yet')).toBeVisible()
  await review.getByRole('textbox', { name: 'Comment' }).fill('Quieter now.')
  await review.getByRole('button', { name: 'Comment' }).click()
  await expect(review.getByText('Quieter now.')).toBeVisible()
  await other.reload()
  await other.getByRole('button', { name: 'Approve', exact: true }).click()
  await expect(other.locator('#review').getByText('approves', { exact: false }).first()).toBeVisible()
})
