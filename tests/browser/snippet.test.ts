import { createServer } from 'node:net'
import { expect, type Browser, type Page, type Response } from '@playwright/test'
import { and, count, eq } from 'drizzle-orm'
import { createDemoSite } from '../../demo/site/server'
import { event, experiment, organisation, pageView, site } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import { sourceHash } from '../../server/services/sites/sourceHash'
import { GUARD, scriptLine, waitStyle } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { handOn } from './handOn'
import { decided, headlinesSeen, newVisitor, reported, served } from './visitor'
import { test, type World } from './world'

const OLD = 'Three islands, one small harbor'
const NEW = 'Changed for everybody'
let ready: Promise<{ key: string; siteId: number }> | undefined

/** A site with one experiment in which nearly everybody gets the changed headline. */
function changedSite({ database, demoOrigin }: World) {
  ready ??= (async () => {
    const [owner] = await database.insert(organisation).values({ name: 'Snippet' }).returning()
    const { id: siteId, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name: 'Snippet' })
    const draft = await createExperiment(database, siteId, null, 'Changed for everybody')
    const target = { siteId, experimentId: draft.id, personId: null }
    await fillSheet(database, target, {
      pageRules: [{ match: 'exact', value: '/' }],
      plan: PLAN,
      variants: [
        { name: 'Control', weight: 1, edits: [] },
        {
          name: 'Changed',
          weight: 9999,
          edits: [{ id: 'edit-headline', kind: 'text', selector: 'h1', original: OLD, value: NEW }],
        },
      ],
      metrics: [primaryMetric('Finder', 'conversion', { type: 'submit', selector: '#finder' })],
    })
    await noteFirstReport(database, siteId)
    await moveExperiment(database, target, 'start')
    return { key, siteId }
  })()
  return ready
}

async function visit(browser: Browser, origin: string, prepare: (page: Page) => Promise<unknown> = async () => {}) {
  const context = await newVisitor(browser)
  const page = await context.newPage()
  const errors: string[] = []
  page.on('pageerror', (error) => errors.push(error.message))
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()))
  await prepare(page)
  const headlines = await headlinesSeen(page, origin)
  return { page, headlines, errors, close: () => context.close() }
}
/** Views and events of a page's own visitor together: visitors of earlier tests may still report. */
async function eventsOf({ database }: World, page: Page): Promise<number> {
  const visitor = (await page.context().cookies()).find(({ name }) => name === 'vetch_visitor')?.value ?? ''
  const [views] = await database.select({ views: count() }).from(pageView).where(eq(pageView.visitorId, visitor))
  const [events] = await database.select({ events: count() }).from(event).where(eq(event.visitorId, visitor))
  return views!.views + events!.events
}

test.beforeEach(async ({ world }) => {
  const { key } = await changedSite(world)
  await world.serveDemo({ scriptLine: scriptLine(world.url, key) })
})

test('works under a strict content security policy, and without the hash of its script as at the first visit', async ({
  world,
  browser,
}) => {
  const { key } = await changedSite(world)
  for (const ofGuard of [`'${sourceHash(GUARD)}'`, '']) {
    const contentSecurityPolicy = `default-src 'none'; script-src ${world.url} ${ofGuard}; connect-src ${world.url}; style-src 'self' '${sourceHash(waitStyle())}'; font-src 'self'; form-action 'self'`
    await world.serveDemo({ scriptLine: scriptLine(world.url, key), contentSecurityPolicy })
    const { page, headlines, errors, close } = await visit(browser, world.demoOrigin)
    expect(headlines).toEqual([NEW])
    await reported(page)
    expect(await headlinesSeen(page, world.demoOrigin)).toEqual([NEW])
    const unexpected = errors.filter(
      (error) => !error.includes('favicon') && (ofGuard || !error.includes('inline script')),
    )
    expect(unexpected).toEqual([])
    await close()
  }
})

test('holds back, from the second page on, only what is changed there, and nothing where nothing runs', async ({
  world,
  browser,
}) => {
  const { key } = await changedSite(world)
  const context = await newVisitor(browser)
  const page = await context.newPage()
  await headlinesSeen(page, world.demoOrigin)
  await reported(page)
  // From here on the script never comes: what is hidden is hidden by the line alone.
  const silent = createServer(() => {})
  await new Promise<void>((started) => silent.listen(0, '127.0.0.1', started))
  const { port } = silent.address() as { port: number }
  await world.serveDemo({ scriptLine: scriptLine(`http://127.0.0.1:${port}`, key, 5000) })
  const isHidden = (selector: string) =>
    page
      .locator(selector)
      .first()
      .evaluate((element) => getComputedStyle(element).visibility === 'hidden')
  const open = async (path: string) => {
    await page.goto(world.demoOrigin + path, { waitUntil: 'commit' })
    await page.locator('footer').waitFor({ state: 'attached' })
  }
  await open('/')
  expect([await isHidden('h1'), await isHidden('footer'), await isHidden('header')]).toEqual([true, false, false])
  await open('/passes')
  expect([await isHidden('h1'), await isHidden('footer')]).toEqual([false, false])
  // What was noted long ago holds no more.
  await page.evaluate((week) => {
    const [id, at, visit] = localStorage.getItem('vetch_session')!.split(' ')
    localStorage.setItem('vetch_session', [id, Number(at) - week - 1000, visit].join(' '))
  }, 7 * 86_400_000)
  await open('/passes')
  expect(await isHidden('footer')).toBe(true)
  silent.close()
  await context.close()
})

test('a page that is held back in part is changed without a glimpse of the original', async ({ world, browser }) => {
  const { key } = await changedSite(world)
  const { page, close } = await visit(browser, world.demoOrigin)
  await reported(page)
  // The script comes long after the rest has been painted.
  await page.route(`**/s/${key}.js`, async (route) => {
    await page.waitForFunction(() => performance.getEntriesByName('first-contentful-paint').length > 0)
    await route.continue()
  })
  expect(await headlinesSeen(page, world.demoOrigin)).toEqual([NEW])
  const exposures = await page.evaluate(() => performance.getEntriesByName('vetch').length)
  expect(exposures).toBe(1)
  await close()
})

test('a page that is held back in part stays as it is where the script comes after its time-out', async ({
  world,
  browser,
}) => {
  const { key, siteId } = await changedSite(world)
  const { page, close } = await visit(browser, world.demoOrigin)
  await reported(page)
  const exposuresBefore = await world.database.$count(event, and(eq(event.siteId, siteId), eq(event.type, 'exposure')))
  await page.route(`**/s/${key}.js`, async (route) => {
    // The headline is shown by its animation, which nothing of Vetch ends.
    await page.waitForFunction(
      () => getComputedStyle(document.querySelector('h1')!).visibility === 'visible' && performance.now() > 1500,
    )
    await route.continue()
  })
  expect(await headlinesSeen(page, world.demoOrigin)).toEqual([OLD])
  await reported(page)
  expect(await world.database.$count(event, and(eq(event.siteId, siteId), eq(event.type, 'exposure')))).toBe(
    exposuresBefore,
  )
  await close()
})

test('leaves the page as it is while Vetch is down', async ({ world, browser }) => {
  const { key } = await changedSite(world)
  await world.serveDemo({ scriptLine: scriptLine('http://127.0.0.1:9', key) })
  const { page, headlines, close } = await visit(browser, world.demoOrigin)
  expect(headlines).toEqual([OLD])
  const paintedAt = await page.evaluate(() => performance.getEntriesByName('first-contentful-paint')[0]!.startTime)
  expect(paintedAt).toBeLessThan(2500)
  await close()
})

test('shows the page after its time-out while Vetch accepts connections and never answers', async ({
  world,
  browser,
}) => {
  const { key } = await changedSite(world)
  const silent = createServer(() => {})
  await new Promise<void>((started) => silent.listen(0, '127.0.0.1', started))
  const { port } = silent.address() as { port: number }
  await world.serveDemo({ scriptLine: scriptLine(`http://127.0.0.1:${port}`, key) })
  const context = await newVisitor(browser)
  const page = await context.newPage()
  await page.goto(world.demoOrigin, { waitUntil: 'commit' })
  await page.waitForFunction(() => performance.getEntriesByName('first-contentful-paint').length > 0)
  expect(await page.locator('h1').innerText()).toBe(OLD)
  const [paintedAt, parsedAt] = await page.evaluate(() => [
    performance.getEntriesByName('first-contentful-paint')[0]!.startTime,
    performance
      .getEntriesByType('navigation')
      .map((entry) => (entry as PerformanceNavigationTiming).domContentLoadedEventEnd)[0]!,
  ])
  expect(paintedAt).toBeLessThan(3000)
  expect(parsedAt).toBeGreaterThan(0)
  expect(parsedAt).toBeLessThan(paintedAt)
  await context.close()
  silent.close()
})

test('keeps events while intake cannot be reached, and sends them on the next page', async ({ world, browser }) => {
  const { page, close } = await visit(browser, world.demoOrigin, (each) =>
    each.route('**/collect', (route) => route.abort()),
  )
  await page.waitForEvent('requestfailed', (request) => request.url().endsWith('/collect'))
  expect(await eventsOf(world, page)).toBe(0)
  expect(
    await page.evaluate(() => Object.keys(localStorage).filter((name) => name.startsWith('vetch_q:')).length),
  ).toBe(1)
  await page.unroute('**/collect')
  await page.goto(`${world.demoOrigin}/help`)
  await reported(page)
  expect(await eventsOf(world, page)).toBe(3)
  await close()
})

test('a visitor without local storage keeps their variant through the cookie', async ({ world, browser }) => {
  const withoutStorage = (page: Page) =>
    page.addInitScript(() =>
      Object.defineProperty(window, 'localStorage', {
        get: () => {
          throw new DOMException('blocked', 'SecurityError')
        },
      }),
    )
  const { page, headlines, close } = await visit(browser, world.demoOrigin, withoutStorage)
  expect(headlines).toEqual([NEW])
  const id = (await page.context().cookies()).find(({ name }) => name === 'vetch_visitor')?.value
  expect(id).toMatch(/^[\w-]{22}$/)
  await page.reload()
  expect((await page.context().cookies()).find(({ name }) => name === 'vetch_visitor')?.value).toBe(id)
  await close()
})

test('a visitor without any storage sees the original and is not counted', async ({ world, browser }) => {
  const sent: string[] = []
  const { page, headlines, close } = await visit(browser, world.demoOrigin, (each) => {
    each.on('request', (request) => sent.push(request.url()))
    return each.addInitScript(() => {
      Object.defineProperty(window, 'localStorage', {
        get: () => {
          throw new DOMException('blocked', 'SecurityError')
        },
      })
      Object.defineProperty(document, 'cookie', { get: () => '', set: () => {} })
    })
  })
  expect(headlines).toEqual([OLD])
  // What a page still has to tell is told as it is left.
  await page.goto('about:blank')
  expect(sent.some((address) => /\/s\/[^/]+\.js$/.test(address))).toBe(true)
  expect(sent.filter((address) => address.endsWith('/collect'))).toEqual([])
  await close()
})

test('respects Global Privacy Control', async ({ world, browser }) => {
  const { page, headlines, close } = await visit(browser, world.demoOrigin, (each) =>
    each.addInitScript(() => Object.defineProperty(navigator, 'globalPrivacyControl', { value: true })),
  )
  expect(headlines).toEqual([OLD])
  expect((await page.context().cookies()).filter(({ name }) => name.startsWith('vetch'))).toEqual([])
  await close()
})

test('respects “do not track” where the site asks for it, and only there', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const respect = async (respectsDoNotTrack: boolean) => {
    await world.database.update(site).set({ respectsDoNotTrack }).where(eq(site.id, siteId))
    await compileSiteFile(world.database, siteId)
  }
  const seen = async () => {
    const context = await newVisitor(browser, { extraHTTPHeaders: { dnt: '1' } })
    const page = await context.newPage()
    const headlines = await headlinesSeen(page, world.demoOrigin)
    const kept = await page.evaluate(() => [document.cookie, ...Object.keys(localStorage)])
    const isHeldBack = await page
      .locator('style')
      .evaluateAll((all) => all.some((each) => each.textContent?.includes('vetch')))
    await context.close()
    return { headlines, keeps: kept.some((each) => each.includes('vetch')), isHeldBack }
  }
  expect(await seen()).toEqual({ headlines: [NEW], keeps: true, isHeldBack: false })
  await respect(true)
  await expect.poll(seen).toEqual({ headlines: [OLD], keeps: false, isHeldBack: false })
  await respect(false)
  await expect.poll(seen).toEqual({ headlines: [NEW], keeps: true, isHeldBack: false })
})

test('where the site asks for consent, nothing is kept or sent before the answer', async ({ world, browser }) => {
  const { siteId, key } = await changedSite(world)
  const setConsent = async (asksConsent: boolean) => {
    await world.database.update(site).set({ asksConsent }).where(eq(site.id, siteId))
    await compileSiteFile(world.database, siteId)
    await served(world.url, key, `"asksConsent":${asksConsent}`)
  }
  await setConsent(true)
  const asked: string[] = []
  const { page, headlines, close } = await visit(browser, world.demoOrigin, async (each) => {
    each.on('request', (request) => asked.push(new URL(request.url()).pathname))
  })
  expect(headlines).toEqual([OLD])
  expect(await page.context().cookies()).toEqual([])
  expect(await page.evaluate(() => Object.keys(localStorage))).toEqual([])
  expect(asked).not.toContain('/collect')
  await page.evaluate(() => (window as unknown as { vetch: unknown[] }).vetch.push({ consent: true }))
  await reported(page)
  expect(asked).toContain('/collect')
  expect(await eventsOf(world, page)).toBe(1)
  expect(await headlinesSeen(page, `${world.demoOrigin}/?next`)).toEqual([NEW])
  await close()
  await setConsent(false)
})

test('puts an edit back that the page’s own script undoes, before it can be seen', async ({ world, browser }) => {
  const { page, headlines, close } = await visit(browser, world.demoOrigin)
  expect(headlines).toEqual([NEW])
  await page.evaluate((text) => document.querySelector('h1')!.replaceChildren(text), OLD)
  await page.evaluate(() => new Promise((frame) => requestAnimationFrame(() => requestAnimationFrame(frame))))
  expect(await page.evaluate(() => (window as unknown as { painted: string[] }).painted)).toEqual([NEW])
  await close()
})

test('changes nothing when it arrives after its time-out, and exposes nobody', async ({ world, browser }) => {
  const { page, headlines, close } = await visit(browser, world.demoOrigin, (each) =>
    each.route('**/s/*.js', async (route) => {
      // The page has shown itself by then.
      await decided(each)
      await route.continue()
    }),
  )
  await page.waitForFunction(() => document.cookie.includes('vetch_visitor'))
  await reported(page)
  expect(headlines).toEqual([OLD])
  expect(await page.locator('h1').innerText()).toBe(OLD)
  expect(await eventsOf(world, page)).toBe(1)
  await close()
})

test('by a path of the site’s own, the server sets the cookie and knows where the visitor is', async ({
  world,
  browser,
}) => {
  const { siteId, key } = await changedSite(world)
  const site = createDemoSite({ scriptLine: scriptLine(`${world.demoOrigin}/vetch`, key) })
  await world.serve(handOn(site, '/vetch', world.url, '198.18.64.9'))
  let answered: Promise<Response> | undefined
  const { page, headlines, errors, close } = await visit(browser, world.demoOrigin, async (each) => {
    answered = each.waitForResponse('**/vetch/collect')
  })
  expect(headlines).toEqual([NEW])
  const visitor = (await page.context().cookies()).find(({ name }) => name === 'vetch_visitor')!
  expect((await (await answered!).allHeaders())['set-cookie']).toMatch(
    new RegExp(`^vetch_visitor=${visitor.value}; Path=/; Max-Age=31536000`),
  )
  expect(visitor.expires - Date.now() / 1000).toBeGreaterThan(360 * 24 * 3600)
  await reported(page)
  const views = await world.database.select().from(pageView).where(eq(pageView.siteId, siteId))
  expect(views.filter(({ visitorId }) => visitorId === visitor.value)).toMatchObject([
    { country: 'IE', city: 'Harrow Quay' },
  ])
  expect(errors).toEqual([])
  await close()
})

test('a pointing token opens the overlay, a wrong or old one does not', async ({ world }) => {
  const { key } = await changedSite(world)
  const reply = await fetch(`${world.url}/overlay.js?key=${key}&token=${Date.now() + 60_000}.forged`)
  expect(reply.status).toBe(403)
  expect((await world.database.select().from(experiment)).length).toBeGreaterThan(0)
})
