import { expect } from '@playwright/test'
import { DAY } from '../../core/time/units'
import { watchSite } from '../../server/services/watch/watchSite'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './team'
import { test } from './world'

test('an alarm is on Today until an editor takes it on with a word; everybody else sees it at once', async ({
  world,
  browser,
  page,
}) => {
  const team = await createTeam(world, 'alarms')
  await startedExperiment(
    world.database,
    team.siteId,
    Date.now() - 3 * DAY,
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
  const viewers = await browser.newContext()
  const viewer = await viewers.newPage()
  await team.signIn(viewer, 'viewer', 'alarms')
  await expect(viewer.getByText('Nothing is wrong now.')).toBeVisible()

  await watchSite(world.database, team.siteId, new Date(), { free: 1e9, size: 1e12 })
  const seen = viewer.getByTestId('alarm')
  await expect(seen).toContainText('Only 1.0 GB of the disk are free.')
  await expect(seen.getByRole('button')).toHaveCount(0)

  await team.signIn(page, 'editor', 'today')
  await page.getByRole('link', { name: /The disk is nearly full/ }).click()
  await expect(page.getByRole('heading', { name: 'Alarms' })).toBeVisible()
  await page.getByRole('button', { name: 'Acknowledge …' }).click()
  const word = page.getByLabel('What you know or do')
  await word.fill('x'.repeat(501))
  await word.press('Enter')
  await expect(page.getByText('This is longer than 500 characters.')).toBeVisible()
  await expect(word).toHaveValue('x'.repeat(501))
  await word.fill('The operator adds a disk.')
  await page.getByRole('button', { name: 'Acknowledge', exact: true }).click()
  await expect(page.getByTestId('alarm')).toContainText('“The operator adds a disk.”')
  await expect(seen).toContainText('“The operator adds a disk.”')
  await page.getByRole('link', { name: 'Today', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'What runs' })).toBeVisible()
  await expect(page.getByRole('link', { name: /The disk is nearly full/ })).toHaveCount(0)

  // What is over stays in the list of all.
  await watchSite(world.database, team.siteId, new Date(Date.now() + DAY), null)
  await viewer.getByRole('radio', { name: 'Last 90 days' }).click()
  await expect(seen.filter({ hasText: 'disk' })).toContainText('Over')
  await viewers.close()
})
