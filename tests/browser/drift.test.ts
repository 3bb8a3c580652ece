import { createServer } from 'node:http'
import { expect } from '@playwright/test'
import { and, eq } from 'drizzle-orm'
import { isInTest, variantOf } from '../../core/assignment/assignment'
import { event, experiment } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { DRIFT_SALT, DRIFT_SHARE } from '../../shared/intake/drift'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './team'
import { newVisitor, reported, withClock } from './visitor'
import { test } from './world'
import { visitorId } from '../visitorId'

test('a browser tells which elements of edits it does not find on a page that has built itself', async ({
  world,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'drift')
  // Two of three elements are drawn by the page's own script: one of them under another name than it had.
  const draw = `document.body.innerHTML += '<p id="drawn">Drawn</p><h2 id="renamed">Fares</h2>'`
  const html = `<!doctype html><html><head>${scriptLine(url, team.siteKey)}</head><body><h1>Boats</h1><script>setTimeout(() => { ${draw} }, 300)</script></body></html>`
  await world.serve(createServer((_, reply) => reply.writeHead(200, { 'content-type': 'text/html' }).end(html)))
  const { id } = await createExperiment(database, team.siteId, null, 'Drifting')
  const target = { siteId: team.siteId, experimentId: id, personId: null }
  const clues = { tag: 'h2', text: 'Fares', before: 'Drawn', after: '' }
  const hide = (edit: string, selector: string) => ({ id: edit, kind: 'hide' as const, selector, keepsSpace: false })
  await fillSheet(database, target, {
    pageRules: ['/', '/other'].map((value) => ({ match: 'exact', value })),
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      {
        name: 'B',
        weight: 1,
        edits: [
          hide('edit-drawn', '#drawn'),
          { ...hide('edit-named', '#named'), clues },
          hide('edit-gone', '#gone'),
          { ...hide('edit-other', '#other'), page: { match: 'exact', value: '/other' } },
        ],
      },
    ],
  })
  await moveExperiment(database, target, 'start')
  const [{ salt } = { salt: '' }] = await database
    .select({ salt: experiment.salt })
    .from(experiment)
    .where(eq(experiment.id, id))
  const drawn = [...Array(2000).keys()].map((index) => visitorId(`drift-visitor-${index}`))
  const looking = drawn.filter((visitor) => isInTest(visitor, { salt: DRIFT_SALT, share: DRIFT_SHARE }))
  const sees = (visitor: string, variant: number) =>
    variantOf(visitor, { salt, share: 10_000, weights: [1, 1] }) === variant
  const ids = {
    control: looking.find((visitor) => sees(visitor, 0))!,
    changed: looking.find((visitor) => sees(visitor, 1))!,
    others: drawn.find((visitor) => !looking.includes(visitor))!,
  }
  for (const visitor of Object.values(ids)) {
    const context = await newVisitor(browser)
    await context.addCookies([{ name: 'vetch_visitor', value: visitor, url: world.demoOrigin }])
    const page = await context.newPage()
    await withClock(page)
    const fetched: string[] = []
    page.on('request', (request) => fetched.push(request.url()))
    await page.goto(world.demoOrigin)
    await expect(page.locator('h1')).toBeVisible()
    await page.clock.fastForward(6500)
    await reported(page)
    expect(fetched.some((address) => address.includes('kind=drift'))).toBe(visitor !== ids.others)
    await context.close()
  }
  const told = () =>
    database
      .select({ visitor: event.visitorId, experiment: event.experimentId, properties: event.properties })
      .from(event)
      .where(and(eq(event.siteId, team.siteId), eq(event.type, 'drift')))
  await expect.poll(told).toEqual([
    {
      visitor: ids.control,
      experiment: id,
      // Whoever sees the variant has other elements by then, and tells nothing of them.
      properties: {
        looked: ['edit-drawn', 'edit-named', 'edit-gone'],
        lost: ['edit-gone'],
        byClues: ['edit-named'],
      },
    },
  ])
})
