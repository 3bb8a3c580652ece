import { expect, type Browser, type BrowserContextOptions } from '@playwright/test'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSite } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/scriptLine'
import { folded, happen } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, saved, type Team } from './team'
import { headlinesSeen, newVisitor } from './visitor'
import { test, type World } from './world'

let prepared: Promise<Team> | undefined
const team = (world: World) => (prepared ??= createTeam(world, 'targeting'))

/** A draft that gives all its visitors another headline. */
async function newDraft(world: World, name: string, parts: SheetParts = {}) {
  const { siteId } = await team(world)
  const { id } = await createExperiment(world.database, siteId, null, name)
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(world.database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
      {
        ...{ id: 'variant-b', name: 'Other', weight: 9999 },
        edits: [{ id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: name }],
      },
    ],
    ...parts,
  })
  return { id, target, start: () => moveExperiment(world.database, target, 'start') }
}
/** What a new visitor reads last in the headline. */
async function seenOn(world: World, browser: Browser, path: string, options: BrowserContextOptions = {}) {
  const context = await newVisitor(browser, options)
  const headlines = await headlinesSeen(await context.newPage(), world.demoOrigin + path)
  await context.close()
  return headlines.at(-1)
}

test('rules are tried on the addresses that occurred while they are typed, and made from examples', async ({
  world,
  page,
}) => {
  const { signIn, siteId } = await team(world)
  const paths = ['/', '/crossings/torrin', '/crossings/ennisay', '/crossings/old', '/book', '/book/done']
  const visitors = paths.map((path, index) => ({ visitor: `v-${index}`, at: Date.now() - 3_600_000, path }))
  await happen(world.database, { id: siteId, address: world.demoOrigin }, visitors)
  await folded(world.database, siteId)
  const { id } = await newDraft(world, 'By examples')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await expect(who).toContainText('1 of 6 addresses')
  await who.getByLabel('Path').fill('/crossings')
  await expect(who).toContainText('0 of 6 addresses')
  await who.getByLabel('Address', { exact: true }).selectOption('begins')
  await expect(who).toContainText('3 of 6 addresses')

  await who.getByLabel('Address', { exact: true }).selectOption('regex')
  await who.getByLabel('Path').fill('^([a-z/]+)+$')
  await who.getByLabel('Path').blur()
  await expect(who.getByRole('alert')).toContainText('very long')
  await expect(who.getByLabel('Path')).toHaveValue('^([a-z/]+)+$')

  await who.getByRole('button', { name: 'See them' }).click()
  for (const path of ['/crossings/torrin', '/crossings/ennisay'])
    await who.getByRole('button', { name: `${path} shall be in` }).click()
  await who.getByRole('button', { name: '/crossings/old shall be out' }).click()
  const proposals = who.getByRole('group', { name: 'Rules from the examples' })
  await expect(proposals).toContainText('addresses that begin with /crossings/, but not addresses that end with /old')
  await proposals.getByRole('button', { name: 'Use it' }).first().click()
  await saved(page)
  await expect(who).toContainText('2 of 6 addresses')
  const { pageRules } = await findSheet(world.database, siteId, id)
  expect(pageRules).toMatchObject([
    { match: 'begins', value: '/crossings/' },
    { match: 'ends', value: '/old', isExcluded: true },
  ])
})

test('a rule by parameter with another that takes pages away is written on the sheet, and visitors get it so', async ({
  world,
  page,
  browser,
}) => {
  const { signIn, siteId } = await team(world)
  const { id, start } = await newDraft(world, 'By mail')
  await signIn(page, 'owner', `experiments/${id}`)
  const who = page.locator('#who')
  await who.getByRole('button', { name: 'More' }).click()
  await who.getByLabel('Looks at').selectOption('parameter')
  await who.getByLabel('Parameter').fill('from')
  await who.getByLabel('Value').fill('MAIL')
  await who.getByLabel('Value').blur()
  await who.getByLabel('In large or small letters').check()
  await who.getByRole('button', { name: 'Add another address' }).click()
  await who.getByLabel('Path').fill('/passes')
  await who.getByLabel('Path').blur()
  await saved(page)
  await who.getByRole('button', { name: 'More' }).click()
  await who.getByLabel('The rule').nth(1).selectOption('out')
  await saved(page)
  expect((await findSheet(world.database, siteId, id)).pageRules).toMatchObject([
    { match: 'exact', value: 'MAIL', part: 'parameter', parameter: 'from', ignoresCase: true },
    { match: 'exact', value: '/passes', isExcluded: true },
  ])
  await start()
  await world.serveDemo({ scriptLine: scriptLine(world.url, (await findSite(world.database, siteId)).key) })
  expect(await seenOn(world, browser, '/?from=mail')).toBe('By mail')
  expect(await seenOn(world, browser, '/timetable?from=Mail&x=1')).toBe('By mail')
  expect(await seenOn(world, browser, '/passes?from=mail')).not.toBe('By mail')
  expect(await seenOn(world, browser, '/?from=post')).not.toBe('By mail')
})
