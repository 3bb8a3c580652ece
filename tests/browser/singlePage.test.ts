import { expect } from '@playwright/test'
import { createKiosk } from '../../demo/kiosk/server'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved } from './team'
import { newVisitor } from './visitor'
import { test } from './world'

test('a variant is pointed at in a page that goes on by itself, and its visitors have it on each of its views', async ({
  world,
  page,
  browser,
}) => {
  const { siteId, signIn } = await createTeam(world, 'single-page')
  const { key } = await findSite(world.database, siteId)
  await world.serve(createKiosk({ scriptLine: scriptLine(world.url, key) }))
  const { id } = await createExperiment(world.database, siteId, null, 'Kiosk words')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'begins', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Tickets', 'conversion', { type: 'event', name: 'ticket' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { id: 'variant-b', name: 'Warm', weight: 9999, edits: [] },
    ],
  })
  await signIn(page, 'editor', `experiments/${id}/point?variant=1&page=/`)
  await expect(page.getByText('Click an element or use')).toBeVisible()
  const frame = page.frameLocator('iframe[title="The page under test"]')

  // The headline of the first view, there alone: every view of the page has one.
  await frame.locator('h1').click()
  await page.getByLabel('New text').fill('Come aboard')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await page.getByRole('button', { name: /^What to do with/ }).click()
  await page.getByRole('menuitem', { name: 'Only on the page that is open' }).click()
  await expect(frame.locator('h1')).toHaveText('Come aboard')

  // On to the next view without a load, and a button there.
  await page.getByRole('button', { name: 'Browse' }).click()
  await frame.locator('#to-torrin').click()
  await expect(frame.locator('h1')).toHaveText('Who travels to Torrin?')
  await expect(page.getByLabel('Page', { exact: true })).toHaveValue('/to/torrin')
  await page.getByRole('button', { name: 'Edit' }).click()
  await frame.locator('#to-pay').click()
  await page.getByLabel('New text').fill('Pay by card')
  await page.getByRole('button', { name: 'Save the text' }).click()
  await expect(frame.locator('#to-pay')).toHaveText('Pay by card')
  await saved(page)
  const { variants } = await findSheet(world.database, siteId, id)
  expect(variants[1]!.edits).toMatchObject([
    { value: 'Come aboard', page: { match: 'exact', value: '/' } },
    { selector: '#to-pay', value: 'Pay by card' },
  ])

  await moveExperiment(world.database, target, 'start')
  const visitor = await (await newVisitor(browser)).newPage()
  await visitor.goto(world.demoOrigin)
  await expect(visitor.locator('h1')).toHaveText('Come aboard')
  await visitor.locator('#to-ennisay').click()
  await expect(visitor.locator('h1')).toHaveText('Who travels to Ennisay?')
  await expect(visitor.locator('#to-pay')).toHaveText('Pay by card')
  // Drawn anew by the page, and still the variant's.
  await visitor.getByRole('button', { name: 'More Adults' }).click()
  await expect(visitor.locator('output').first()).toHaveText('2')
  await expect(visitor.locator('#to-pay')).toHaveText('Pay by card')
  await visitor.locator('#other-island').click()
  await expect(visitor.locator('h1')).toHaveText('Come aboard')
})
