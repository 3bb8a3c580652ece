import { expect } from '@playwright/test'
import { DAY, HOUR } from '../../core/time/units'
import { refreshSummaries } from '../../server/services/results/summaries'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './team'
import { test } from './world'

test('from a split that is off to its cause: found in a browser, left out, named, and off Today; or begun anew', async ({
  world,
  page,
}) => {
  const { database } = world
  const team = await createTeam(world, 'split-off')
  const noon = Date.now() - (Date.now() % DAY) - 12 * HOUR
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const id = await startedExperiment(database, team.siteId, noon - HOUR, order)
  const arrive = (browser: string, visitors: [number, number]) =>
    visitors.flatMap((count, variant) =>
      Array.from({ length: count }, (_, index): Happening => ({
        visitor: `${browser}-${variant}-${index}`,
        at: noon + index * 5000,
        type: 'exposure',
        experiment: id,
        variant,
        view: { browser },
      })),
    )
  await happen(database, { id: team.siteId, address: team.siteAddress }, [
    ...arrive('Safari', [200, 60]),
    ...arrive('Firefox', [150, 152]),
  ])
  await folded(database, team.siteId)
  await refreshSummaries(database, team.siteId, [id], new Date())

  await team.signIn(page, 'owner')
  await page.getByRole('link', { name: /Started: data not sound/ }).click()
  const panel = page.getByRole('region', { name: 'Visitors by variant' })
  await expect(panel.getByText('Data shows it', { exact: false })).toHaveCount(1)
  await expect(panel.getByText('Safari: Control 200 of 130 expected, Variant B 60 of 130 expected.')).toBeVisible()
  // It opens where the split is off.
  const row = panel.getByRole('row', { name: /Safari/ })
  await expect(row).toContainText('off, others as set')
  await expect(row.getByRole('link', { name: 'Recordings of Variant B, Safari' })).toHaveAttribute(
    'href',
    new RegExp(`segment=variant:${id}\\.1,browser:Safari`),
  )
  await panel.getByRole('button', { name: 'Device' }).click()
  await expect(panel.getByRole('row', { name: /desktop/ })).toContainText('350 of 281')

  // What is missing is said, and what was typed stays.
  await panel.getByLabel('What you found').fill('The heading breaks in Safari.')
  await panel.getByRole('button', { name: 'Save the cause' }).click()
  await expect(panel.getByText('Choose one of the causes.')).toBeVisible()
  await panel.getByLabel('Cause').selectOption('A variant fails in some browsers or on some devices')
  await panel.getByRole('button', { name: 'Save the cause' }).click()
  await expect(panel.getByText('some devices: The heading breaks in Safari.')).toBeVisible()
  await page.getByRole('link', { name: 'Today', exact: true }).click()
  await expect(page.getByRole('link', { name: /Started/ }).first()).toBeVisible()
  await expect(page.getByText('Started: data not sound')).toHaveCount(0)

  await page.goto(`${world.url}/sites/${team.siteId}/experiments/${id}#split`)
  await panel.getByRole('button', { name: 'Withdraw' }).click()
  await panel.getByRole('button', { name: 'off: Browser', exact: true }).click()
  await row.getByRole('button', { name: 'Leave out' }).click()
  await expect(page.getByText('Visitors with browser Safari')).toBeVisible()
  await expect(page.getByText('Control 150 of 151 expected')).toBeVisible()

  await panel.getByLabel('Cause').selectOption('Something else')
  await panel.getByLabel('What you found').fill('Too much is lost.')
  await panel.getByRole('button', { name: 'End and restart as a copy' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'End and restart as a copy' }).click()
  await expect(page.getByText('Started (copy)').first()).toBeVisible()
  await page.goto(`${world.url}/sites/${team.siteId}/experiments/${id}`)
  await expect(page.getByText('The split was not as set. Too much is lost.')).toBeVisible()
})
