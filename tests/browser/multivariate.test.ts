import { createServer } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { and, eq } from 'drizzle-orm'
import type { Edit } from '../../core/edits/content'
import { allCombinations } from '../../core/factors/combinations'
import { exposure } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved, type Team } from './team'
import { newVisitor, reported } from './visitor'
import { test, type World } from './world'

let shared: Promise<Team> | undefined
const team = (world: World) => (shared ??= createTeam(world, 'multivariate'))

const text = (id: string, selector: string, original: string, value: string): Edit => ({
  id,
  kind: 'text',
  selector,
  original,
  value,
})

/** A draft whose only variant changes heading and button of a small page. */
async function newDraft(world: World, page: Page) {
  const { siteId, signIn } = await team(world)
  const { key } = await findSite(world.database, siteId)
  const html = `<!doctype html><html><head><meta charset="utf-8">${scriptLine(world.url, key)}</head><body><h1>Boats</h1><button id="find">Find</button><p class="lead">All year</p></body></html>`
  await world.serve(createServer((_, response) => response.writeHead(200, { 'content-type': 'text/html' }).end(html)))
  const { id } = await createExperiment(world.database, siteId, null, 'Headline and button')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        id: 'variant-b',
        name: 'Warm',
        weight: 1,
        edits: [text('edit-head', 'h1', 'Boats', 'Sail'), text('edit-find', '#find', 'Find', 'Find my ferry')],
      },
    ],
  })
  await signIn(page, 'editor', `experiments/${id}`)
  return { id, target, path: `experiments/${id}`, read: () => findSheet(world.database, siteId, id) }
}

test('a variant that changes two things becomes factors, whose combinations are switched and undone', async ({
  world,
  page,
}) => {
  const { read, id, target } = await newDraft(world, page)
  await page.getByRole('button', { name: 'Make it multivariate' }).click()
  const grid = page.getByRole('region', { name: 'Combinations' })
  await expect(grid.getByText('4 of 4 are on.')).toBeVisible()
  await saved(page)
  expect((await read()).factors.map(({ name, levels }) => [name, levels.map(({ edits }) => edits.length)])).toEqual([
    ['h1', [0, 1]],
    ['#find', [0, 1]],
  ])

  const name = page.getByLabel('Name of the factor').first()
  await name.fill('Headline')
  await name.press('Tab')
  await grid.getByRole('checkbox', { name: 'Show visitors Changed × Changed' }).click()
  await expect(grid.getByText('3 of 4 are on.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(grid.getByText('4 of 4 are on.')).toBeVisible()

  // Each combination that is on is seen in its cell.
  await page.getByRole('button', { name: 'Take pictures' }).click()
  await expect(grid.getByRole('button', { name: /^Open the picture of .* in the grid$/ })).toHaveCount(4, {
    timeout: 180_000,
  })
  await grid.getByRole('button', { name: 'Open the picture of Changed × Changed in the grid' }).click()
  await expect(page.getByRole('dialog', { name: 'Changed × Changed, desktop, /' }).getByRole('img')).toBeVisible()
  await page.keyboard.press('Escape')

  // Two more factors make sixteen, of which at most ten run.
  await page.getByRole('button', { name: 'Add a factor' }).click()
  await page.getByRole('button', { name: 'Add a factor' }).click()
  await expect(grid.getByText('16 of 16 are on; at most 10 run at once.')).toBeVisible()
  await expect(page.getByText('16 combinations are on, and at most 10 run at once.')).toBeVisible()
  await page.getByRole('button', { name: 'Take a balanced fraction' }).click()
  await expect(grid.getByText('8 of 16 are on.')).toBeVisible()
  await expect(grid.getByText('What these combinations cannot tell apart')).toBeVisible()
  await saved(page)
  expect((await read()).variants).toHaveLength(8)
  await page.reload()
  await expect(grid.getByText('8 of 16 are on.')).toBeVisible()

  // A level of the third factor that changes the headline too.
  const third = (await read()).factors[2]!
  const conflicting = {
    ...third,
    levels: [third.levels[0]!, { ...third.levels[1]!, edits: [text('edit-more', 'h1', 'Boats', 'Go')] }],
  }
  await fillSheet(world.database, target, { factors: (await read()).factors.with(2, conflicting) })
  await expect(page.getByText(/Headline, Changed and Factor 3, Changed change the same about h1/)).toBeVisible()
  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}/point?level=${third.levels[1]!.id}`)
  await expect(page.getByText('Factor 3: Changed', { exact: true })).toBeVisible()
  await expect(page.getByText('Edits of this level')).toBeVisible()

  await page.goto(`${world.url}/sites/${target.siteId}/experiments/${id}`)
  await page.getByRole('button', { name: 'Make it an A/B test' }).click()
  await expect(page.getByLabel('Name of variant H')).toBeVisible()
  await saved(page)
  expect((await read()).factors).toEqual([])
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(grid.getByText('8 of 16 are on.')).toBeVisible()
})

test('visitors see combinations, each with what its levels change, and none that is off', async ({
  world,
  page,
  browser,
}) => {
  const { read, target, path } = await newDraft(world, page)
  await page.getByRole('button', { name: 'Make it multivariate' }).click()
  await saved(page)
  const { factors } = await read()
  const both = allCombinations(factors, []).at(-1)!
  await fillSheet(world.database, target, { combinationsOff: [{ id: both.id }] })
  await moveExperiment(world.database, target, 'start')
  const words = new Set<string>()
  for (let visitor = 0; visitor < 24; visitor++) {
    const context = await newVisitor(browser)
    const tab = await context.newPage()
    await tab.goto((await team(world)).siteAddress)
    await reported(tab)
    words.add(`${await tab.locator('h1').innerText()}, ${await tab.locator('#find').innerText()}`)
    await context.close()
  }
  expect([...words].sort()).toEqual(['Boats, Find', 'Boats, Find my ferry', 'Sail, Find'])
  const isThis = and(eq(exposure.siteId, target.siteId), eq(exposure.experimentId, target.experimentId))
  await expect.poll(() => world.database.$count(exposure, isThis)).toBe(24)
  const rows = await world.database.select({ variant: exposure.variant }).from(exposure).where(isThis)
  expect(new Set(rows.map(({ variant }) => variant))).toEqual(new Set([0, 1, 2]))

  await (await team(world)).signIn(page, 'viewer', path)
  await expect(page.getByText('3 of 4 are on.')).toBeVisible()
  await expect(page.getByRole('checkbox', { name: /Show visitors/ })).toHaveCount(0)
})
