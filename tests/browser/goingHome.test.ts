import { createServer } from 'node:http'
import { expect, type Page } from '@playwright/test'
import type { Edit } from '../../core/edits/content'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { primaryMetric } from '../metrics'
import { createTeam } from './team'
import { decided, newVisitor, served } from './visitor'
import { test } from './world'

const OLD = `<h1>Boats</h1><p id="lead">To the islands</p><p id="old">By coach</p><p id="wide">Map</p><a id="go" href="/a">Go</a>`
/** The text and the link only; a class of its own makes the lead large. */
const PART = `<h1>Sail today</h1><p id="lead">To the islands</p><p id="old">By coach</p><p id="wide">Map</p><a id="go" href="/b">Go</a>`
const ALL = `<style>#lead.large { font-size: 30px } @media (max-width: 599px) { #wide { display: none } }</style><h1>Sail  today</h1><p id="lead" class="large">To the islands</p>
  <p id="wide">Map</p><a id="go" href="/b">Go</a>`
const EDITS: Edit[] = [
  { id: 'home-text', kind: 'text', selector: 'h1', original: 'Boats', value: 'Sail today', title: 'Headline' },
  {
    id: 'home-style',
    kind: 'style',
    selector: '#lead',
    original: { 'font-size': '16px' },
    value: { 'font-size': '30px' },
    title: 'Larger lead',
  },
  { id: 'home-hide', kind: 'hide', selector: '#old', keepsSpace: false, title: 'No coach' },
  {
    id: 'home-phone',
    kind: 'hide',
    selector: '#wide',
    keepsSpace: false,
    title: 'Not on phones',
    widths: { from: null, below: 600 },
  },
  { id: 'home-link', kind: 'attribute', selector: '#go', name: 'href', original: '/a', value: '/b', title: 'Link' },
]
const DOGS: Edit = {
  id: 'home-dogs',
  kind: 'insert',
  selector: '#go',
  place: 'after',
  value: '<p class="dogs">Dogs  sail free</p>',
  title: 'Dogs',
}

test('once the site has what is served, Vetch says so, and stopping changes nothing that a visitor sees', async ({
  world,
  page,
  browser,
}) => {
  const { database, url } = world
  const team = await createTeam(world, 'home')
  let body = OLD
  let status = 200
  const html = () =>
    `<!doctype html><html><head><meta name="viewport" content="width=device-width">${scriptLine(url, team.siteKey).replace('1.5s', '30s')}</head><body>${body}</body></html>`
  await world.serve(createServer((_, reply) => reply.writeHead(status, { 'content-type': 'text/html' }).end(html())))
  const serve = async (name: string, edits: Edit[]) => {
    const { id: experimentId } = await createExperiment(database, team.siteId, null, name, 'serve')
    const target = { siteId: team.siteId, experimentId, personId: null }
    await fillSheet(database, target, {
      pageRules: [{ match: 'exact', value: '/' }],
      metrics: [primaryMetric(`${name} orders`, 'conversion', { type: 'event', name: 'order' })],
      variants: [
        { name: 'Held back', weight: 0, edits: [] },
        { name: 'Served', weight: 10_000, edits },
      ],
    })
    await moveExperiment(database, target, 'start')
    return experimentId
  }
  const id = await serve('Sailing', EDITS)
  await served(url, team.siteKey, 'Sail today')
  await team.signIn(page, 'editor', `experiments/${id}`)
  const home = page.getByRole('region', { name: 'In the site’s own code' })
  const look = async () => {
    await home.getByRole('button', { name: 'Look at the site' }).click()
    await expect(home.getByRole('button', { name: 'Looking …' })).toHaveCount(0, { timeout: 40_000 })
  }
  const standingOf = (title: string) => home.getByRole('row', { name: new RegExp(title) })
  await look()
  await expect(home.getByTestId('going-home')).toContainText('does not have all of it yet. Looked at /')
  for (const title of ['Headline', 'Larger lead', 'No coach', 'Not on phones', 'Link'])
    await expect(standingOf(title)).toContainText('Vetch makes it')

  body = PART
  await look()
  for (const title of ['Headline', 'Link']) await expect(standingOf(title)).toContainText('The site has it')
  for (const title of ['Larger lead', 'No coach', 'Not on phones'])
    await expect(standingOf(title)).toContainText('Vetch makes it')
  await expect(home.getByTestId('going-home')).toContainText('does not have all of it yet')

  body = ALL
  await look()
  await expect(home.getByTestId('going-home')).toContainText('No longer needed.')
  await expect(home.getByTestId('going-home')).toContainText('visitors see the same once it is stopped')
  await page.goto(`${url}/sites/${team.siteId}/today`)
  await expect(page.getByText('Sailing is no longer needed')).toBeVisible()

  const visitor = await newVisitor(browser, { viewport: { width: 800, height: 600 } })
  const tab = await visitor.newPage()
  const seen = async (of: Page) => {
    await of.goto(world.demoOrigin)
    await decided(of)
    await of.evaluate(() => new Promise((frame) => requestAnimationFrame(() => requestAnimationFrame(frame))))
    const text = await of.locator('body').innerText()
    return { text, picture: (await of.screenshot()).toString('base64') }
  }
  const before = await seen(tab)
  expect(before.text).toContain('Sail today')
  await page.getByText('Sailing is no longer needed').click()
  await page.getByRole('button', { name: 'Stop …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByText('Stopped. Everybody sees the original.')).toBeVisible()
  await served(url, team.siteKey, 'Sail today', false)
  expect(await seen(tab)).toEqual(before)

  // What is added would stand there twice: that is told, and whatever the site has is not the same then.
  const dogs = await serve('Dogs', [DOGS])
  await page.goto(`${url}/sites/${team.siteId}/experiments/${dogs}`)
  await look()
  await expect(standingOf('Dogs')).toContainText('Vetch makes it')
  body = `${ALL}<p class="dogs">Dogs sail free</p>`
  await look()
  await expect(standingOf('Dogs')).toContainText('The site has it')
  await expect(home.getByTestId('going-home')).toContainText('Vetch adds some of it again')
  // A page that answers with an error says nothing of what is hidden, and what was found before stays.
  status = 500
  await look()
  await expect(page.getByText('answers with 500').first()).toBeVisible()
  await expect(standingOf('Dogs')).toContainText('The site has it')
  status = 200
  // A page whose element is gone is for people to look at.
  body = '<h1>Closed</h1>'
  await look()
  await expect(standingOf('Dogs')).toContainText('Its element is gone')
  await visitor.close()
})
