import { expect, type Page } from '@playwright/test'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { createFinding } from '../../server/services/findings/findings'
import type { Role } from '../../shared/accounts/account'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, type Team } from './team'
import { test, type World } from './world'

const RUNNING = 'A running experiment'
const DRAFT = 'A draft with <b>markup</b>'
let prepared: Promise<Team> | undefined

function prepare(world: World): Promise<Team> {
  prepared ??= (async () => {
    const { database } = world
    const team = await createTeam(world, 'interface')
    const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
    for (const name of [RUNNING, DRAFT]) {
      const { id } = await createExperiment(database, team.siteId, null, name)
      const target = { siteId: team.siteId, experimentId: id, personId: null }
      await fillSheet(database, target, {
        pageRules: [{ match: 'exact', value: '/' }],
        plan: PLAN,
        metrics: [primaryMetric('Orders', 'conversion', { type: 'click', selector: '#x' })],
        variants: [
          { name: 'Control', weight: 1, edits: [] },
          { name: 'B', weight: 1, edits: [edit] },
        ],
      })
      if (name === RUNNING) await moveExperiment(database, target, 'start')
    }
    return team
  })()
  return prepared
}

async function signIn(page: Page, world: World, role: Role, path?: string): Promise<number> {
  const team = await prepare(world)
  await team.signIn(page, role, path)
  return team.siteId
}
const rows = (page: Page) => page.getByRole('row').filter({ has: page.getByRole('link') })

test('a shared link leads through the sign-in to its place', async ({ page, world }) => {
  const { siteId } = await prepare(world)
  await page.goto(`${world.url}/sites/${siteId}/experiments?new`)
  await page.getByLabel('E-mail address').fill('viewer@interface.example')
  await page.getByLabel('Password').fill('a-long-enough-password')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page).toHaveURL(/\/experiments/)
  await expect(page.getByRole('heading', { name: 'Experiments' })).toBeVisible()
})

test('a viewer reads everything and is offered nothing to change', async ({ page, world }) => {
  await signIn(page, world, 'viewer', 'experiments')
  await expect(rows(page)).toHaveCount(2)
  await expect(page.getByRole('button', { name: 'New experiment' })).toBeHidden()
  await page.getByRole('link', { name: DRAFT }).click()
  await expect(page.getByLabel('Name of the experiment')).toBeDisabled()
  await expect(page.getByRole('button', { name: 'Start' })).toBeHidden()
  await expect(page.locator('#why')).toBeVisible()
  // Saying something is for everybody, and changes nothing of the experiment.
  await expect(page.getByRole('textbox', { name: 'Comment' })).toBeEnabled()
  await expect(page.locator('main').locator('input, select, textarea:not(:disabled)')).toHaveCount(1)
  await expect(page.getByRole('button', { name: /Edit|Raise|Add/ })).toHaveCount(0)
})

test('names with markup are shown as text', async ({ page, world }) => {
  await signIn(page, world, 'editor', 'experiments')
  await expect(page.getByRole('link', { name: DRAFT })).toBeVisible()
  await expect(page.locator('main b')).toHaveCount(0)
})

test('deleting can be undone', async ({ page, world }) => {
  await signIn(page, world, 'editor', 'experiments')
  await page.getByRole('button', { name: `Delete ${DRAFT}` }).click()
  await expect(rows(page)).toHaveCount(1)
  await page.getByRole('button', { name: /^Undo: / }).click()
  await expect(rows(page)).toHaveCount(2)
})

test('the keyboard reaches every place: palette, shortcuts, arrows, Escape', async ({ page, world }) => {
  await signIn(page, world, 'editor', 'today')
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
  await page.keyboard.press('Control+k')
  await expect(page.getByLabel('Go to, or do')).toBeFocused()
  await page.keyboard.type('running exp')
  await expect(page.getByRole('option')).toHaveCount(1)
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name of the experiment')).toHaveValue(RUNNING)
  // It finds by words in what the team has written, too.
  const { siteId } = await prepare(world)
  const title = 'On phones nobody has a tape measure'
  const finding = { title, words: '', severity: 'high' as const, tags: [], page: null, frozen: null, pin: null }
  await createFinding(world.database, siteId, null, finding)
  await page.keyboard.press('Control+k')
  await page.keyboard.type('tape measure')
  await expect(page.getByRole('option', { name: /nobody has a tape measure.*Finding/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'On phones nobody has a tape measure' })).toBeVisible()
  await page.locator('main').focus()
  await page.keyboard.type('ge')
  await expect(page.getByRole('heading', { name: 'Experiments' })).toBeVisible()
  await page.getByRole('link', { name: DRAFT }).focus()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('link', { name: RUNNING })).toBeFocused()
  await page.keyboard.type('?')
  await expect(page.getByRole('dialog')).toContainText('New experiment')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.keyboard.type('n')
  await expect(page.getByRole('dialog').getByLabel('Name')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
})

test('a failing list says so and can be tried again', async ({ page, world }) => {
  await signIn(page, world, 'viewer', 'today')
  await page.route('**/api/sites/*/experiments', (route) =>
    route.fulfill({ status: 503, json: { message: 'The database cannot be reached at the moment.' } }),
  )
  await page.getByRole('link', { name: 'Experiments' }).click()
  await expect(page.getByRole('alert')).toContainText('The database cannot be reached')
  await page.unroute('**/api/sites/*/experiments')
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(rows(page)).toHaveCount(2)
})

test('nothing is wider than a phone', async ({ page, world }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  const siteId = await signIn(page, world, 'editor', 'experiments')
  const link = await page.getByRole('link', { name: RUNNING }).getAttribute('href')
  for (const path of [`/sites/${siteId}/today`, `/sites/${siteId}/experiments`, link!, `/sites/${siteId}/setup/site`]) {
    await page.goto(world.url + path)
    await page.getByRole('heading').first().waitFor()
    expect([path, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([path, 390])
  }
})

test('a view that breaks says so, and leads back', async ({ page, world }) => {
  await signIn(page, world, 'editor', 'experiments')
  await expect(page.getByRole('heading', { name: 'Experiments' })).toBeVisible()
  await page.route('**/today', (route) =>
    route.request().resourceType() === 'document' ? route.continue() : route.fulfill({ json: { needs: 5 } }),
  )
  await page.getByRole('navigation').getByRole('link', { name: 'Today' }).click()
  await expect(page.getByRole('heading', { name: 'Something broke on this page.' })).toBeVisible()
  await page.unroute('**/today')
  await page.getByRole('button', { name: 'Go to the start' }).click()
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
})
