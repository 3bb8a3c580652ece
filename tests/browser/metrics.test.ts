import { expect, type BrowserContext } from '@playwright/test'
import { eq } from 'drizzle-orm'
import type { MetricSource } from '../../core/measurement/metric'
import { exposure, organisation } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { book, headlinesSeen, newVisitor, reported, served } from './visitor'
import { test } from './world'

const SOURCES: { name: string; kind: 'conversion' | 'mean'; source: MetricSource; sum: number }[] = [
  { name: 'Finder submitted', kind: 'conversion', source: { type: 'submit', selector: '#finder' }, sum: 1 },
  { name: 'Promotion clicked', kind: 'conversion', source: { type: 'click', selector: '#promo-pass' }, sum: 1 },
  { name: 'Promotion clicks', kind: 'mean', source: { type: 'click', selector: '.promo a' }, sum: 2 },
  {
    name: 'Booked amount',
    kind: 'mean',
    source: {
      type: 'pageAmount',
      page: { match: 'exact', value: '/book/done' },
      selector: '#order-total',
      reference: { parameter: 'ref' },
    },
    sum: 75,
  },
  { name: 'Orders by code', kind: 'mean', source: { type: 'event', name: 'order' }, sum: 12.5 },
  {
    name: 'Help read',
    kind: 'conversion',
    source: { type: 'visit', page: { match: 'begins', value: '/help' } },
    sum: 0,
  },
  // The view that exposes counts, and both returns from the promotion.
  { name: 'Start page views', kind: 'mean', source: { type: 'visit', page: { match: 'exact', value: '/' } }, sum: 3 },
  // Twice the promotion and the form, all of them on the tested page.
  { name: 'Engagement', kind: 'mean', source: { type: 'engagement' }, sum: 3 },
  { name: 'Visits', kind: 'mean', source: { type: 'visits' }, sum: 1 },
]

test('every kind of metric counts what a visitor really did from the exposure on, and nothing from before', async ({
  world,
  browser,
}) => {
  const { database, demoOrigin } = world
  const [owner] = await database.insert(organisation).values({ name: 'Metrics' }).returning()
  const { id: siteId, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name: 'Metrics' })
  await noteFirstReport(database, siteId)
  const ids: number[] = []
  for (const { name, kind, source } of SOURCES) {
    const { id } = await createExperiment(database, siteId, null, name)
    ids.push(id)
    const target = { siteId, experimentId: id, personId: null }
    const edit = {
      id: `edit-${id}-metrics`,
      kind: 'text',
      selector: `#next-sailings tr:nth-child(1) td:nth-child(${(ids.length % 3) + 1})`,
      original: 'x',
      value: `Changed ${id}`,
    } as const
    await fillSheet(database, target, {
      pageRules: [{ match: 'exact', value: '/' }],
      plan: PLAN,
      metrics: [
        primaryMetric('Never', 'conversion', { type: 'event', name: 'never' }),
        primaryMetric(name, kind, source, { role: 'secondary' }),
      ],
      variants: [
        { name: 'Control', weight: 1, edits: [] },
        { name: 'B', weight: 1, edits: [edit] },
      ],
    })
    await moveExperiment(database, target, 'start')
  }
  await world.serveDemo({ scriptLine: scriptLine(world.url, key) })
  await served(world.url, key, `Changed ${ids.at(-1)}`)

  const visitor = await newVisitor(browser)
  await act(visitor, demoOrigin)
  await visitor.close()

  await expect
    .poll(async () => (await database.select().from(exposure).where(eq(exposure.siteId, siteId))).length)
    .toBe(SOURCES.length)
  for (const [index, { name, sum }] of SOURCES.entries()) {
    const read = async () => {
      const { metrics, visitors } = await experimentResults(
        database,
        await findSheet(database, siteId, ids[index]!),
        new Date(),
      )
      return { name, visitors, sum: metrics[1]!.arms.reduce((total, arm) => total + arm.sum, 0) }
    }
    await expect.poll(read).toEqual({ name, visitors: 1, sum })
  }
})

async function act(visitor: BrowserContext, origin: string): Promise<void> {
  const page = await visitor.newPage()
  // Help is read before the first exposure, so it must not count.
  await headlinesSeen(page, `${origin}/help`)
  await reported(page)
  await headlinesSeen(page, origin)
  for (let times = 0; times < 2; times++) {
    await page.locator('#promo-pass').click()
    await page.waitForURL(/island-hopper/)
    await page.goBack()
  }
  await page.getByRole('button', { name: 'Find a crossing' }).click()
  await page.waitForURL(/\/book/)
  expect(await book(page, origin)).toBe('€ 37.50')
  expect(await book(page, origin)).toBe('€ 37.50')
  await page.evaluate(() =>
    (window as unknown as { vetch: unknown[] }).vetch.push(
      { event: 'order', amount: 12.5, currency: 'EUR' },
      { nonsense: true },
      { event: 'other', amount: 99 },
    ),
  )
  await reported(page)
}
