import { expect } from '@playwright/test'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './team'
import { headlinesSeen, newVisitor, reported, served } from './visitor'
import { test } from './world'

const OLD = 'Three islands, one small harbor'
const NEW = 'Sail to an island today'

test('what an experiment has won is served to whom it should be, counted, stopped and served again', async ({
  world,
  page,
  browser,
}) => {
  const { database, url, demoOrigin } = world
  const team = await createTeam(world, 'rollouts')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  const { id: experimentId } = await createExperiment(database, team.siteId, null, 'Headline')
  const target = { siteId: team.siteId, experimentId, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    audience: { join: 'all', of: [{ fact: 'language', is: 'begins', texts: ['de'] }] },
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'Sail',
        weight: 1,
        edits: [{ id: 'edit-rollout-1', kind: 'text', selector: 'h1', original: OLD, value: NEW }],
      },
    ],
  })
  await moveExperiment(database, target, 'start')
  /** What visitors with a language of their own see as the headline, each with a browser of their own. */
  const seen = async (locale: string, visitors = 3): Promise<string[]> => {
    const found = new Set<string>()
    for (let index = 0; index < visitors; index++) {
      const visitor = await newVisitor(browser, { locale })
      const tab = await visitor.newPage()
      for (const headline of await headlinesSeen(tab, demoOrigin)) found.add(headline)
      await reported(tab)
      await visitor.close()
    }
    return [...found]
  }

  await team.signIn(page, 'editor', `experiments/${experimentId}`)
  await page.getByRole('button', { name: 'End …' }).click()
  await page.getByRole('radio', { name: 'Control' }).check()
  await expect(page.getByText('From now on visitors see')).toHaveCount(0)
  await expect(page.getByText('Everybody sees the original, and no more')).toBeVisible()
  await page.getByRole('radio', { name: 'Sail' }).check()
  await expect(page.getByRole('radio', { name: 'Sail: Vetch rolls it out' })).toBeChecked()
  await expect(page.getByText('Everybody sees the original, and no more')).toHaveCount(0)
  await page.getByRole('textbox', { name: 'Why' }).fill('More orders.')
  // A share that is none is said at its field, and nothing is ended.
  const share = page.getByRole('dialog').getByRole('textbox', { name: 'Share of the visitors' })
  await share.fill('many')
  await page.getByRole('button', { name: 'End and roll out' }).click()
  await expect(page.getByText('Type the share in percent.')).toBeVisible()
  await expect(share).toHaveValue('many')
  await share.fill('100')
  await page.getByRole('button', { name: 'End and roll out' }).click()
  await expect(page.getByText('Ended and rolled out.')).toBeVisible()
  const thread = page.getByRole('navigation', { name: 'Thread' })
  await expect(thread).toContainText('Sail served to 100 %')
  await served(url, team.siteKey, '"weights":[1]')
  expect(await seen('de-DE')).toEqual([NEW])
  expect(await seen('en-IE')).toEqual([OLD])

  await page.getByRole('link', { name: 'Rolled out to 100 %' }).click()
  await expect(page.getByTestId('reach')).toContainText('of these only: language begins with')
  await expect(page.getByText(`${NEW}`).first()).toBeVisible()
  await page.getByRole('button', { name: 'Change …' }).click()
  await page.getByLabel('Share of the visitors').fill('0')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('To serve it to nobody, stop it.').first()).toBeVisible()
  await expect(page.getByLabel('Share of the visitors')).toHaveValue('0')
  await page.getByLabel('Share of the visitors').fill('100')
  await page.getByLabel('everybody on its pages').check()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByTestId('reach')).not.toContainText('of these only')
  await served(url, team.siteKey, '"de"', false)
  expect(await seen('en-IE')).toEqual([NEW])

  await page.getByRole('button', { name: 'Stop serving' }).click()
  await expect(page.getByTestId('state')).toContainText('stopped')
  await served(url, team.siteKey, NEW, false)
  expect(await seen('de-DE', 2)).toEqual([OLD])
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(page.getByTestId('state')).toContainText('served')
  await page.getByText('History').click()
  await expect(page.getByText(/editor · stopped/)).toBeVisible()

  // Those who got it are counted: three with one language, three with the other.
  await page.getByRole('link', { name: 'Rollouts' }).click()
  await expect(page).toHaveURL(/rollouts$/)
  await expect
    .poll(async () => {
      await page.reload()
      return page.getByRole('row', { name: /Headline/ }).innerText()
    })
    .toMatch(/\b6\b/)
  await page.getByRole('row').getByRole('link', { name: 'Headline' }).click()
  await thread.getByRole('link', { name: 'Headline' }).click()
  await expect(page.getByTestId('decision')).toContainText('Sail is kept')
})
