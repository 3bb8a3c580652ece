import { expect, type BrowserContext } from '@playwright/test'
import { and, eq, inArray } from 'drizzle-orm'
import { DAY, HOUR } from '../../core/time/units'
import { allocationPeriod, event, experiment } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment } from '../../server/services/experiments/experiments'
import { noteFirstReport } from '../../server/services/sites/sites'
import { moveSplits } from '../../server/services/traffic/movingSplits'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './team'
import { headlinesSeen, newVisitor, reported, served } from './visitor'
import { test } from './world'

const OLD = 'Three islands, one small harbor'
const NEW = 'Half price until Sunday'

test('more and more new visitors get what does better, and whoever came before keeps what they had', async ({
  world,
  page,
  browser,
}) => {
  const { database, url, demoOrigin } = world
  const team = await createTeam(world, 'moving')
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey).replace('1.5s', '30s') })
  await noteFirstReport(database, team.siteId)
  const { id } = await createExperiment(database, team.siteId, null, 'Offer of the week')
  const target = { siteId: team.siteId, experimentId: id, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'Half price',
        weight: 1,
        edits: [{ id: 'edit-moving-1', kind: 'text', selector: 'h1', original: OLD, value: NEW }],
      },
    ],
  })

  await team.signIn(page, 'editor', `experiments/${id}`)
  await page.getByLabel('Split', { exact: true }).selectOption('moving')
  const least = page.getByLabel('Least share')
  await least.fill('70')
  await least.blur()
  await expect(page.getByText('The least share is at most 50 %.')).toBeVisible()
  await expect(least).toHaveValue('70')
  await least.fill('5')
  await least.blur()
  await expect(page.getByText('The least share is at most 50 %.')).toHaveCount(0)
  await page.getByRole('button', { name: 'Start …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Start' }).click()
  await expect(page.getByText('The split moves')).toHaveCount(0)
  await served(url, team.siteKey, '"period":0')

  const comes = async (visitor: BrowserContext) => {
    const tab = await visitor.newPage()
    const [headline] = (await headlinesSeen(tab, demoOrigin)).slice(-1)
    await reported(tab)
    await tab.close()
    return headline
  }
  const early = await Promise.all(Array.from({ length: 6 }, () => newVisitor(browser)))
  const before: (string | undefined)[] = []
  for (const visitor of early) before.push(await comes(visitor))
  const ids = await Promise.all(
    early.map(async (visitor) => (await visitor.cookies()).find(({ name }) => name === 'vetch_visitor')!.value),
  )

  // A day in which half price sold four times as much.
  const since = new Date(Date.now() - 2 * DAY)
  await database.update(experiment).set({ startedAt: since }).where(eq(experiment.id, id))
  await database.update(allocationPeriod).set({ since }).where(eq(allocationPeriod.experimentId, id))
  const bought = [0, 1].flatMap((variant) =>
    Array.from({ length: 300 }, (_, index): Happening => {
      const at = since.getTime() + HOUR
      const exposed = { at, type: 'exposure' as const, experiment: id, variant, period: 0 }
      const order = { at: at + 1000, type: 'custom' as const, name: 'order', amount: 1 }
      const orders = variant === 0 ? 15 : 60
      return { visitor: `sold-${variant}-${index}`, at, events: index < orders ? [exposed, order] : [exposed] }
    }),
  )
  await happen(database, { id: team.siteId, address: demoOrigin }, bought)
  await folded(database, team.siteId)
  await moveSplits(database, new Date())
  await served(url, team.siteKey, '"period":1')

  for (const [index, visitor] of early.entries()) expect(await comes(visitor)).toBe(before[index])
  const late: (string | undefined)[] = []
  for (let index = 0; index < 12; index++) {
    const visitor = await newVisitor(browser)
    late.push(await comes(visitor))
    await visitor.close()
  }
  // Of twenty new ones one gets the control: four of twelve would be one case in five thousand.
  expect(late.filter((headline) => headline === NEW).length).toBeGreaterThan(8)

  const told = () =>
    database
      .select({ visitor: event.visitorId, variant: event.variant, period: event.period, shownAfter: event.shownAfter })
      .from(event)
      .where(and(eq(event.siteId, team.siteId), eq(event.type, 'exposure'), inArray(event.visitorId, ids)))
  await expect.poll(async () => (await told()).length).toBe(12)
  for (const { visitor, variant, period, shownAfter } of await told()) {
    expect({ variant, period }).toEqual({ variant: before[ids.indexOf(visitor)] === NEW ? 1 : 0, period: 0 })
    // Of a tab that is looked at it is told when its change was there.
    expect(shownAfter).toBeGreaterThan(0)
  }

  await folded(database, team.siteId)
  await page.reload()
  const panel = page.getByTestId('moving-split')
  await expect(panel).toContainText('Of new visitors: Control 5.0 %, Half price 95.0 %, in period 2.')
  await expect(page.getByTestId('over-time')).toHaveCount(0)
  await expect(page.getByText('The split is as the weights of its periods say.')).toBeVisible()
  await panel.getByRole('button', { name: 'Table' }).click()
  await expect(panel.getByRole('row')).toHaveCount(5)
  await Promise.all(early.map((visitor) => visitor.close()))
})
