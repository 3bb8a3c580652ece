import { expect, type Locator, type Page } from '@playwright/test'
import { eq } from 'drizzle-orm'
import { experiment, site } from '../../server/database/schema'
import { createExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { createTeam, saved } from './team'
import { test } from './world'

const MOST_TABS = 120

/** Goes on with the Tab key until an element has the focus. */
async function tabTo(page: Page, target: Locator): Promise<void> {
  await expect(target).toBeVisible()
  for (let tabs = 0; tabs < MOST_TABS; tabs++) {
    if (await target.evaluate((element) => element === document.activeElement)) return
    await page.keyboard.press('Tab')
  }
  throw new Error(`The Tab key does not lead to ${target}`)
}
async function type(page: Page, target: Locator, text: string): Promise<void> {
  await tabTo(page, target)
  await page.keyboard.press('Control+a')
  await page.keyboard.type(text)
}
async function press(page: Page, target: Locator): Promise<void> {
  await tabTo(page, target)
  await page.keyboard.press('Enter')
}

test('the keyboard alone leads from the sign-in to a started experiment, headings of the page included', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'keyboard')
  const [own] = await world.database.select().from(site).where(eq(site.id, team.siteId))
  await world.serveDemo({ scriptLine: scriptLine(world.url, own!.key) })
  // The only thing that is not typed is the address of Vetch.
  await page.goto(`${world.url}/sites/${team.siteId}/experiments`)
  await type(page, page.getByLabel('E-mail address'), 'editor@keyboard.example')
  await type(page, page.getByLabel('Password'), 'a-long-enough-password')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Experiments' })).toBeVisible()
  await page.keyboard.press('n')
  await type(page, page.getByRole('dialog').getByRole('textbox'), 'By keyboard')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of the experiment')).toHaveValue('By keyboard')

  await type(page, page.getByLabel('Path').first(), '/')
  await type(page, page.locator('#measured').getByLabel('Name'), 'Help read')
  await type(page, page.locator('#measured').getByLabel('Path'), '/help')
  await page.keyboard.press('Tab')
  await type(page, page.locator('#decided').getByLabel('Expected rate of the control'), '5')
  await type(page, page.locator('#decided').getByLabel('Planned visitors'), '20000')
  await page.keyboard.press('Tab')
  await saved(page)

  await press(page, page.getByRole('link', { name: 'Point at the page' }))
  const status = page.getByRole('status').filter({ hasText: /arrow keys|Enter chooses it|Opening/ })
  await expect(status).toContainText('use the arrow keys')
  await tabTo(page, page.locator('iframe'))
  for (let steps = 0; steps < 40 && !(await status.textContent())?.startsWith('heading “Three'); steps++) {
    // The next step waits for what this one leads to.
    const before = (await status.textContent())!
    await page.keyboard.press('ArrowDown')
    await expect(status).not.toHaveText(before)
    await expect(status).toContainText('Enter chooses it')
  }
  await expect(status).toContainText('heading “Three islands')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('New text')).toBeFocused()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Sail to an island')
  await page.keyboard.press('Control+Enter')
  await expect(page.frameLocator('iframe').locator('h1')).toHaveText('Sail to an island')
  await saved(page)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Escape')
  await expect(page.getByLabel('Name of the experiment')).toBeVisible()

  const start = page.getByRole('button', { name: 'Start …' })
  await expect(start).toBeEnabled()
  await press(page, start)
  await press(page, page.getByRole('dialog').getByRole('button', { name: 'Start' }))
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
  const [started] = await world.database.select().from(experiment).where(eq(experiment.siteId, team.siteId))
  const sheet = await findSheet(world.database, team.siteId, started!.id)
  expect(sheet).toMatchObject({ state: 'running', name: 'By keyboard', metrics: [{ name: 'Help read' }] })
  expect(sheet.variants[1]!.edits).toMatchObject([{ value: 'Sail to an island' }])
})

test('skip links lead to the first row of a table, and to the next step of a sheet, within five tabs', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'skips')
  const { id } = await createExperiment(world.database, team.siteId, null, 'Far down')
  await team.signIn(page, 'editor', 'experiments')
  const link = page.getByRole('row').getByRole('link', { name: 'Far down' })
  await expect(link).toBeVisible()
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(page.locator(':focus')).toHaveText('Skip to the table')
  await page.keyboard.press('Enter')
  await expect(link).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Start …' })).toBeVisible()
  await page.goto(`${world.url}/sites/${team.siteId}/experiments/${id}`)
  const start = page.getByRole('complementary', { name: 'Next step' })
  await expect(start).toBeVisible()
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await expect(page.locator(':focus')).toHaveText('Skip to the next step')
  await page.keyboard.press('Enter')
  await expect(start).toBeFocused()
  // Only what works here is listed: there is nothing to refresh on a draft.
  await page.keyboard.press('?')
  const shortcuts = page.getByRole('dialog', { name: 'Shortcuts' })
  await expect(shortcuts.getByText('Point at the page for the first variant')).toBeVisible()
  await expect(shortcuts.getByText('Refresh the results')).toHaveCount(0)
})
