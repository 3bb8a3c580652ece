import { createServer } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { build } from 'esbuild'
import { eq } from 'drizzle-orm'
import { event, organisation, pageView } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { PLAN, primaryMetric } from '../metrics'
import { newVisitor, reported, withClock } from './visitor'
import { test, type World } from './world'

let ready: Promise<{ siteId: number; line: string }> | undefined

/** A site on which nearly everybody gets other headlines on two pages. */
function changedSite({ database, demoOrigin, url }: World) {
  ready ??= (async () => {
    const [owner] = await database.insert(organisation).values({ name: 'Views' }).returning()
    const { id: siteId, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name: 'Views' })
    await noteFirstReport(database, siteId)
    for (const name of ['one', 'two']) {
      const { id } = await createExperiment(database, siteId, null, name)
      const target = { siteId, experimentId: id, personId: null }
      await fillSheet(database, target, {
        pageRules: [{ match: 'exact', value: `/${name}` }],
        plan: PLAN,
        variants: [
          { name: 'Control', weight: 1, edits: [] },
          {
            name: 'Changed',
            weight: 9999,
            edits: [{ id: `edit-${name}-1`, kind: 'text', selector: 'h1', original: name, value: `Changed ${name}` }],
          },
        ],
        metrics: [primaryMetric('Clicks', 'conversion', { type: 'click', selector: '#never' })],
      })
      await moveExperiment(database, target, 'start')
    }
    return { siteId, line: scriptLine(url, key).replace('1.5s', '30s') }
  })()
  return ready
}

/** Serves a page of the site with this body, on any path but those of the scripts named. */
async function servePages(world: World, body: string, scripts: Record<string, string> = {}, lines = 1): Promise<void> {
  const { line } = await changedSite(world)
  const html = `<!doctype html><html><head><meta charset="utf-8">${line.repeat(lines)}</head><body>${body}</body></html>`
  await world.serve(
    createServer((request, response) => {
      const script = scripts[new URL(request.url ?? '/', world.demoOrigin).pathname]
      response
        .writeHead(200, { 'content-type': script === undefined ? 'text/html' : 'text/javascript' })
        .end(script ?? html)
    }),
  )
}

/** Errors of a page, filled as they come. */
function errorsOf(page: Page): string[] {
  const errors: string[] = []
  page.on('pageerror', (error) => errors.push(error.message))
  return errors
}
const viewsOf = async ({ database }: World, siteId: number, path?: string) =>
  (await database.select().from(pageView).where(eq(pageView.siteId, siteId))).filter(
    ({ address }) => !path || new URL(address).pathname === path,
  )
const shown = (page: Page) => page.locator('h1').evaluate((element) => element.textContent)

test('twenty tabs of one new visitor are one visitor', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(world, '<h1>tabs</h1>')
  const tabs = await Promise.all(Array.from({ length: 20 }, () => context.newPage()))
  await Promise.all(tabs.map((tab) => tab.goto(`${world.demoOrigin}/tabs`)))
  await expect.poll(async () => (await viewsOf(world, siteId, '/tabs')).length).toBe(20)
  const views = await viewsOf(world, siteId, '/tabs')
  expect([
    new Set(views.map(({ visitorId }) => visitorId)).size,
    new Set(views.map(({ sessionId }) => sessionId)).size,
  ]).toEqual([1, 1])
  await context.close()
})

test('a single-page application is followed: each address is decided, changed, counted, and taken back on leaving', async ({
  world,
  browser,
}) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  const application = `
    window.go = (path) => { history.pushState(null, '', path); setTimeout(() => { document.querySelector('h1').firstChild.data = path.slice(1) }, 30) }
    addEventListener('popstate', () => { document.querySelector('h1').firstChild.data = location.pathname.slice(1) })`
  await servePages(world, '<h1>one</h1><script src="/app.js"></script>', { '/app.js': application })
  const page = await context.newPage()
  await withClock(page)
  const errors = errorsOf(page)
  await page.goto(`${world.demoOrigin}/one`)
  await expect.poll(() => shown(page)).toBe('Changed one')
  const go = (path: string) => page.evaluate((to) => (window as unknown as { go: (path: string) => void }).go(to), path)
  await go('/plain')
  await expect.poll(() => shown(page)).toBe('plain')
  await go('/two')
  await expect.poll(() => shown(page)).toBe('Changed two')
  await page.clock.fastForward(11_000)
  await go('/one')
  await expect.poll(() => shown(page)).toBe('Changed one')
  // A fragment and a query that is only replaced are no other view.
  await page.evaluate(() => {
    history.pushState(null, '', '#part')
    history.replaceState(null, '', '?filter=1')
  })
  await reported(page)
  const views = (await viewsOf(world, siteId))
    .map(({ address }) => new URL(address).pathname)
    .filter((path) => path !== '/tabs')
  expect(views.sort()).toEqual(['/one', '/one', '/plain', '/two'])
  const events = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect(events.filter(({ type }) => type === 'exposure')).toHaveLength(3)
  expect(errors).toEqual([])
  await context.close()
})

const FRAMEWORKS: Record<string, string> = {
  'React 19': `
    import { createElement as h, useState } from 'react'
    import { hydrateRoot } from 'react-dom/client'
    function App() {
      const [n, set] = useState(0)
      window.next = () => set((each) => each + 1)
      return h('main', null, h('h1', null, 'Original ', n % 2 ? h('b', null, 'bold') : h('i', null, 'italic'), ' one'), h('p', null, String(n)))
    }
    hydrateRoot(document.getElementById('app'), h(App))`,
  'Vue 3': `
    import { createSSRApp, h, ref } from 'vue'
    const n = ref(0)
    window.next = () => n.value++
    createSSRApp({ render: () => h('main', [h('h1', ['Original ', n.value % 2 ? h('b', 'bold') : h('i', 'italic'), ' one']), h('p', String(n.value))]) }).mount('#app')`,
}
for (const [name, source] of Object.entries(FRAMEWORKS)) {
  test(`a text that ${name} manages stays changed through hydration and updates, and the page goes on`, async ({
    world,
    browser,
  }) => {
    const bundle = await build({
      stdin: { contents: source, resolveDir: process.cwd() },
      bundle: true,
      write: false,
      minify: true,
      format: 'iife',
      define: {
        'process.env.NODE_ENV': '"production"',
        __VUE_OPTIONS_API__: 'true',
        __VUE_PROD_DEVTOOLS__: 'false',
        __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
      },
    })
    const context = await newVisitor(browser)
    const served =
      '<div id="app"><main><h1>Original <i>italic</i> one</h1><p>0</p></main></div><script src="/app.js" defer></script>'
    await servePages(world, served, { '/app.js': bundle.outputFiles[0]!.text })
    const page = await context.newPage()
    const errors: string[] = []
    page.on('pageerror', (error) => errors.push(error.message))
    await page.goto(`${world.demoOrigin}/one`)
    await expect.poll(() => shown(page).then((text) => text?.trim())).toBe('Changed one')
    await page.waitForFunction(() => 'next' in window)
    for (let times = 1; times <= 6; times++) {
      await page.evaluate(() => (window as unknown as { next: () => void }).next())
      await expect(page.locator('p')).toHaveText(String(times))
      await expect.poll(() => shown(page).then((text) => text?.trim())).toBe('Changed one')
    }
    // React says that what it found was changed, draws anew, and goes on.
    expect(errors.filter((error) => !/hydrat|#418|#425/i.test(error))).toEqual([])
    await context.close()
  })
}

test('a page that undoes an edit again and again is left alone, with that edit only', async ({ world, browser }) => {
  const context = await newVisitor(browser)
  const stubborn = `new MutationObserver(() => { const h = document.querySelector('h1'); if (h.textContent !== 'mine') { h.textContent = 'mine'; window.undone = (window.undone ?? 0) + 1 } }).observe(document, { subtree: true, childList: true, characterData: true })`
  await servePages(world, '<h1>one</h1><script src="/app.js"></script>', { '/app.js': stubborn })
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/one`)
  // Until it is not undone any more.
  let undone = 0
  await expect
    .poll(async () => {
      const before = undone
      undone = await page.evaluate(() => (window as unknown as { undone?: number }).undone ?? 0)
      return undone > 0 && undone === before
    })
    .toBe(true)
  await page.evaluate(() => document.body.append('news'))
  await expect.poll(() => shown(page)).toBe('mine')
  await context.close()
})

test('consent that is withdrawn ends everything at once, and leaves nothing', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/one`)
  await expect.poll(() => shown(page)).toBe('Changed one')
  await reported(page)
  const before = (await viewsOf(world, siteId)).length
  await page.evaluate(() =>
    (window as unknown as { vetch: unknown[] }).vetch.push({ event: 'unsent' }, { consent: false }, { event: 'later' }),
  )
  expect(await shown(page)).toBe('one')
  expect(await page.evaluate(() => Object.keys(localStorage).filter((name) => name.startsWith('vetch')))).toEqual([])
  expect(
    (await context.cookies()).filter(({ name }) => name.startsWith('vetch')).map(({ name, value }) => [name, value]),
  ).toEqual([['vetch_consent', 'no']])
  const sent: string[] = []
  page.on('request', (request) => sent.push(request.url()))
  await page.reload()
  expect(await shown(page)).toBe('one')
  // What a page still has to tell is told as it is left.
  await page.goto('about:blank')
  expect(sent.filter((address) => address.endsWith('/collect'))).toEqual([])
  expect((await viewsOf(world, siteId)).length).toBe(before)
  const events = await world.database.select({ name: event.name }).from(event).where(eq(event.siteId, siteId))
  expect(events.filter(({ name }) => name === 'unsent' || name === 'later')).toEqual([])
  await context.close()
})

test('the line twice on a page, and the page in a frame of itself, count once', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(
    world,
    `<h1>twice</h1><script>if (window === top) document.write('<iframe src="/twice"></iframe>')</script>`,
    {},
    2,
  )
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/twice`)
  await reported(page)
  // What the page had to tell is told before the next one is.
  await page.goto(`${world.demoOrigin}/one`)
  await reported(page)
  expect(await viewsOf(world, siteId, '/twice')).toHaveLength(1)
  await context.close()
})

test('a page with globals of its own keeps them, and gets no errors from ours', async ({ world, browser }) => {
  const context = await newVisitor(browser)
  await context.addInitScript(() => {
    const own = window as unknown as Record<string, unknown>
    own.vetch = () => 'the page’s own'
    delete own.MutationObserver
    JSON.stringify = () => {
      throw new Error('not yours')
    }
  })
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  const errors = errorsOf(page)
  await page.goto(`${world.demoOrigin}/one`)
  await page.locator('h1').click()
  expect(await page.evaluate(() => (window as unknown as { vetch: () => string }).vetch())).toBe('the page’s own')
  expect(await page.locator('h1').isVisible()).toBe(true)
  expect(errors).toEqual([])
  await context.close()
})

test('a page whose lists say something else of themselves as JSON is counted all the same', async ({
  world,
  browser,
}) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await context.addInitScript(() => {
    Object.assign(Array.prototype, { toJSON: () => 'a list' })
    Object.assign(String.prototype, { toJSON: () => 'a text' })
  })
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/listed`)
  await page.locator('h1').click()
  await reported(page)
  await expect.poll(async () => (await viewsOf(world, siteId, '/listed')).length).toBe(1)
  const clicks = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect(clicks.filter(({ address, type }) => type === 'click' && address.endsWith('/listed'))).toHaveLength(1)
  await context.close()
})

test('a page that changes its address all the time keeps what is new, and not all of it each time', async ({
  world,
  browser,
}) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await context.addInitScript(() => {
    const own = Storage.prototype.setItem
    const counted = Object.assign(window, { writes: 0 })
    Storage.prototype.setItem = function (name, value) {
      if (name.startsWith('vetch_q:')) counted.writes++
      return own.call(this, name, value)
    }
  })
  // Nothing is acknowledged for as long as it goes on.
  await context.route('**/collect', (route) => route.abort())
  await servePages(world, '<h1>plain</h1>')
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/storm`)
  await expect.poll(() => page.evaluate(() => Object.keys(localStorage).length)).toBeGreaterThan(1)
  await page.evaluate(async () => {
    for (let step = 0; step < 100; step++) {
      history.pushState(null, '', `/storm/${step}`)
      await new Promise(requestAnimationFrame)
    }
  })
  const kept = () => page.evaluate(() => Object.keys(localStorage).filter((name) => name.startsWith('vetch_q:')).length)
  await expect.poll(kept).toBe(101)
  expect(await page.evaluate(() => (window as unknown as { writes: number }).writes)).toBeLessThan(250)
  await context.unroute('**/collect')
  await page.reload()
  // The latest are sent at once, the others when no page can be at them any more.
  await expect
    .poll(async () => (await viewsOf(world, siteId)).filter(({ address }) => address.includes('/storm')).length)
    .toBeGreaterThan(20)
  await context.close()
})

test('where a change fails the visitor sees the original, and was exposed to nothing', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await context.addInitScript(() => {
    const own = Object.getOwnPropertyDescriptor(CharacterData.prototype, 'data')!
    Object.defineProperty(CharacterData.prototype, 'data', {
      ...own,
      set() {
        throw new Error('this text is kept')
      },
    })
  })
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  const errors = errorsOf(page)
  await page.goto(`${world.demoOrigin}/one?failing`)
  await reported(page)
  expect(await shown(page)).toBe('one')
  const visitor = (await context.cookies()).find(({ name }) => name === 'vetch_visitor')!.value
  const own = async () => (await viewsOf(world, siteId, '/one')).filter(({ visitorId }) => visitorId === visitor)
  await expect.poll(async () => (await own()).length).toBe(1)
  const exposures = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect(exposures.filter(({ visitorId }) => visitorId === visitor)).toEqual([])
  expect(errors).toEqual([])
  await context.close()
})

test('a page that was prepared counts once it is opened, and one that comes back from the browser’s cache counts anew', async ({
  world,
  browser,
}) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  await withClock(page)
  await page.addInitScript(() => Object.defineProperty(document, 'prerendering', { value: true, configurable: true }))
  const before = (await viewsOf(world, siteId, '/one')).length
  await page.goto(`${world.demoOrigin}/one`)
  await expect.poll(() => shown(page)).toBe('Changed one')
  await page.clock.fastForward(1000)
  expect((await viewsOf(world, siteId, '/one')).length).toBe(before)
  await page.evaluate(() => document.dispatchEvent(new Event('prerenderingchange')))
  await expect.poll(async () => (await viewsOf(world, siteId, '/one')).length).toBe(before + 1)
  await page.evaluate(() => {
    Object.defineProperty(document, 'prerendering', { value: false })
    dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true }))
  })
  await expect.poll(async () => (await viewsOf(world, siteId, '/one')).length).toBe(before + 2)
  expect(await shown(page)).toBe('Changed one')
  await context.close()
})

test('a batch that is too large goes in halves, and nothing of it is lost or counted twice', async ({
  world,
  browser,
}) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(world, '<h1>halves</h1>')
  const page = await context.newPage()
  let refused = 0
  await page.route('**/collect', (route) => {
    if ((route.request().postData()?.length ?? 0) < 3000) return route.continue()
    refused++
    return route.fulfill({ status: 413, headers: { 'access-control-allow-origin': world.demoOrigin } })
  })
  await page.goto(`${world.demoOrigin}/halves`)
  await reported(page)
  await page.evaluate(() => {
    const { vetch } = window as unknown as { vetch: unknown[] }
    for (let index = 0; index < 60; index++) vetch.push({ event: `half-${index}-${'x'.repeat(60)}` })
  })
  const events = async () =>
    (await world.database.select({ name: event.name }).from(event).where(eq(event.siteId, siteId))).filter(({ name }) =>
      name?.startsWith('half-'),
    )
  await expect.poll(async () => (await events()).length).toBe(60)
  expect(refused).toBeGreaterThan(0)
  await reported(page)
  expect(new Set((await events()).map(({ name }) => name)).size).toBe(60)
  await context.close()
})

test('a view that is left at once is still that of its own address', async ({ world, browser }) => {
  const { siteId } = await changedSite(world)
  const context = await newVisitor(browser)
  await servePages(world, '<h1>quick</h1>')
  const page = await context.newPage()
  await page.goto(`${world.demoOrigin}/quick`)
  await reported(page)
  await page.evaluate(() => {
    history.pushState(null, '', '/quick/a')
    history.pushState(null, '', '/quick/b')
  })
  const paths = async () =>
    (await viewsOf(world, siteId))
      .map(({ address }) => new URL(address).pathname)
      .filter((path) => path.startsWith('/quick'))
  await expect.poll(async () => (await paths()).sort()).toEqual(['/quick', '/quick/a', '/quick/b'])
  await context.close()
})

test('a late document.write does not bring the original back', async ({ world, browser }) => {
  const context = await newVisitor(browser)
  await servePages(world, '<h1>one</h1>')
  const page = await context.newPage()
  const errors = errorsOf(page)
  await page.goto(`${world.demoOrigin}/one`)
  await expect.poll(() => shown(page)).toBe('Changed one')
  await page.evaluate(() => {
    document.open()
    document.write('<!doctype html><html><body><h1>one</h1></body></html>')
    document.close()
  })
  await expect.poll(() => shown(page)).toBe('Changed one')
  expect(errors).toEqual([])
  await context.close()
})
