import { deliveredMarkup } from '../../core/edits/markup'
import { createRandom } from '../../demo/visitors/random'
import { createServer } from 'node:http'
import { expect, test as base, type Page } from '@playwright/test'
import { build } from 'esbuild'
import { eq } from 'drizzle-orm'
import fc from 'fast-check'
import type { DeliveredEdit, EditContent, EditMarks } from '../../core/edits/content'
import { deliveredEdit, orderEdits } from '../../core/edits/edit'
import { event, organisation } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { createSite, noteFirstReport } from '../../server/services/sites/sites'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { drawThingId } from '../../shared/thingId'
import { PLAN, primaryMetric } from '../metrics'
import '../propertySeed'
import { newVisitor, reported } from './visitor'
import { test, type World } from './world'

const PAGE = `<main id="all">
  <h1 class="big">Three <b>islands</b>, <a href="/book">one harbor</a></h1>
  <p id="intro">Boats all year.<br>Also on <span class="day">Sunday</span>.</p>
  <ul id="list"><li>Ennisay</li><li class="mid" style="color: blue">Torrin</li><li>Little Skell</li></ul>
  <picture><source srcset="/wide.svg"><img id="pier" src="/pier.svg" srcset="/pier2.svg 2x" alt="The pier"></picture>
  <section id="fares"><h2>Fares</h2><p>From 12 euro</p></section>
</main>`

/** The appliers and the keeper, for a page to use. */
const bundled = build({
  stdin: {
    contents: `
      import { everyKind } from './delivery/edits/everyKind'
      import { createKeeper } from './delivery/snippet/keepApplied'
      window.keepEdits = (edits) => { const keeper = createKeeper(everyKind); keeper.apply(edits); keeper.keep(); return keeper.takeBack }`,
    resolveDir: process.cwd(),
  },
  bundle: true,
  write: false,
  format: 'iife',
})

interface Keeping {
  /** The page's first element, whatever the document calls so. */
  pageRoot: HTMLElement
  keepEdits: (edits: DeliveredEdit[]) => () => void
}

async function openPage(page: Page): Promise<void> {
  await page.setContent(`<!doctype html><html><head></head><body>${PAGE}</body></html>`)
  await page.addScriptTag({ content: (await bundled).outputFiles[0]!.text })
  await page.evaluate(() => Object.assign(window, { pageRoot: document.documentElement }))
}

/** Adds a form with a field, and a document with an image and a form, for each name; their own properties by default. */
function addNames(page: Page, names?: readonly string[]): Promise<number> {
  return page.evaluate((given) => {
    const root = (window as unknown as Keeping).pageRoot
    const ofForm = []
    for (const name in root.ownerDocument.createElement('form')) ofForm.push(name)
    const ofDocument = []
    for (const name in root.ownerDocument) ofDocument.push(name)
    const nameOf = (name: string) => (given ? `${given[0]}-${name}` : name)
    const fields = ofForm.map((name) => `<input class="trap" name="${nameOf(name)}">`)
    const images = ofDocument.map((name) => `<img class="trap" alt="" name="${nameOf(name)}" id="${nameOf(name)}">`)
    const forms = ofDocument.map((name) => `<form class="trap" name="${nameOf(name)}"></form>`)
    const links = ofDocument.map((name) => `<a class="trap" href="#" id="link-${nameOf(name)}">x</a>`)
    const form = `<form id="trap"><h2>Where to</h2><p class="way">By boat</p>${fields.join('')}<button>Go on</button></form>`
    root
      .querySelector('#all')!
      .insertAdjacentHTML('beforeend', form + images.join('') + forms.join('') + links.join(''))
    return fields.length + images.length
  }, names)
}

/** Applies edits; answers with what the page was before, what it is with them, and what it is without them again. */
function appliedAndTakenBack(page: Page, edits: DeliveredEdit[]) {
  return page.evaluate((wanted) => {
    const root = (window as unknown as Keeping).pageRoot
    const html = () => root.outerHTML
    const before = root.cloneNode(true) as HTMLElement
    const takeBack = (window as unknown as Keeping).keepEdits(wanted)
    const during = html()
    takeBack()
    return { before: before.outerHTML, during, after: html(), isAsBefore: before.isEqualNode(root) }
  }, edits)
}

const SELECTORS = ['h1', 'h1 a', '#intro', '#list', '.mid', '#pier', '#fares', '#fares h2', '.day', 'li:nth-child(3)']
const markup = fc.constantFrom('<p>New</p>', 'Plain', '<b>A</b><i>B</i>', '<div><p>Deep</p></div>')
function anyEditOf(selectors: readonly string[]): fc.Arbitrary<DeliveredEdit> {
  const selector = fc.constantFrom(...selectors)
  return fc.oneof(
    fc.record({ kind: fc.constant('text' as const), selector, value: fc.constantFrom('New words', 'Other') }),
    fc.record({
      kind: fc.constant('richText' as const),
      selector: fc.constantFrom('h1', '#intro'),
      value: fc.constantFrom(
        '<b>All</b> new',
        '<span data-part="1">Book</span> at <span data-part="0">once</span>',
        'x',
      ),
    }),
    fc.record({ kind: fc.constant('html' as const), selector, value: markup }),
    fc.record({
      kind: fc.constant('insert' as const),
      selector,
      place: fc.constantFrom('before' as const, 'after' as const, 'first' as const, 'last' as const),
      value: markup,
    }),
    fc.record({
      kind: fc.constant('attribute' as const),
      selector,
      name: fc.constantFrom('href', 'title', 'id'),
      value: fc.constantFrom('/x', null),
    }),
    fc.record({
      kind: fc.constant('image' as const),
      selector,
      value: fc.constant({ address: '/other.svg', alt: 'Another' }),
    }),
    fc.record({
      kind: fc.constant('style' as const),
      selector,
      value: fc.constantFrom<Record<string, string>>({ color: 'red' }, { width: '10px', margin: '4px' }),
    }),
    fc.record({
      kind: fc.constant('classes' as const),
      selector,
      add: fc.constant(['given'] as string[]),
      remove: fc.constantFrom<string[]>([], ['mid', 'big']),
    }),
    fc.record({
      kind: fc.constant('move' as const),
      selector,
      to: selector,
      place: fc.constantFrom('before' as const, 'after' as const, 'last' as const),
    }),
    fc.record({
      kind: fc.constant('rearrange' as const),
      selector: fc.constantFrom('#list', '#all', '#fares'),
      order: fc.constantFrom<number[]>([2, 0, 1], [1, 0], [4, 3, 2, 1, 0]),
    }),
    fc.record({ kind: fc.constant('hide' as const), selector, keepsSpace: fc.boolean() }),
    fc.record({ kind: fc.constant('remove' as const), selector }),
    fc.record({ kind: fc.constant('css' as const), value: fc.constant('h1 { color: red }') }),
  )
}

base('any edits, taken back, leave the page exactly as it was', async ({ page }) => {
  await openPage(page)
  await fc.assert(
    fc.asyncProperty(fc.array(anyEditOf(SELECTORS), { minLength: 1, maxLength: 6 }), async (edits) => {
      const { before, after, isAsBefore } = await appliedAndTakenBack(page, edits)
      if (!isAsBefore) expect(after).toBe(before)
      expect(isAsBefore).toBe(true)
    }),
    { numRuns: 150 },
  )
})

base(
  'edits do the same on a page whose forms, images and links carry every name that hides a property',
  async ({ context }) => {
    const [plain, trap] = [await context.newPage(), await context.newPage()]
    for (const page of [plain, trap]) await openPage(page)
    await addNames(plain, ['harmless'])
    expect(await addNames(trap)).toBeGreaterThan(300)
    const hidden = await trap.evaluate(() => [
      (window as unknown as Keeping).pageRoot.querySelector('form')!.children instanceof HTMLCollection,
      document.querySelector instanceof Function,
    ])
    expect(hidden).toEqual([false, false])
    const unnamed = (html: string) =>
      html.replace(/(class="trap"[^>]*?) name="[^"]*"( id="[^"]*")?/g, '$1').replace(/ id="link-[^"]*"/g, '')
    const firstDifference = (a: string, b: string) => {
      const at = [...a].findIndex((character, index) => character !== b[index])
      return at < 0 && a.length === b.length ? null : [a.slice(at, at + 200), b.slice(at, at + 200)]
    }
    const selectors = ['#trap', '#trap h2', '#trap .way', '#trap button', '#all', 'h1', '#list']
    await fc.assert(
      fc.asyncProperty(fc.array(anyEditOf(selectors), { minLength: 1, maxLength: 4 }), async (edits) => {
        const [wanted, found] = [await appliedAndTakenBack(plain, edits), await appliedAndTakenBack(trap, edits)]
        expect(firstDifference(unnamed(found.during), unnamed(wanted.during))).toBeNull()
        expect(found.isAsBefore).toBe(true)
      }),
      { numRuns: 60 },
    )
  },
)

const EACH_KIND: [DeliveredEdit, string][] = [
  [{ kind: 'text', selector: '#fares h2', value: 'Prices' }, '<h2>Prices</h2>'],
  [
    {
      kind: 'richText',
      selector: 'h1',
      value: '<b>New:</b> <span data-part="1">our harbor</span>, <span data-part="0">islands</span>',
    },
    '<b>New:</b> <a href="/book">our harbor</a>, <b>islands</b>',
  ],
  [{ kind: 'html', selector: '#fares', value: '<p>Free</p>' }, '<section id="fares"><p>Free</p></section>'],
  [{ kind: 'insert', selector: '#fares h2', place: 'after', value: '<p>Dogs free</p>' }, '</h2><p>Dogs free</p>'],
  [{ kind: 'attribute', selector: 'h1 a', name: 'href', value: '/passes' }, '<a href="/passes">'],
  [
    { kind: 'image', selector: '#pier', value: { address: '/new.svg', alt: 'Boats' } },
    '<source><img id="pier" src="/new.svg" alt="Boats">',
  ],
  [
    { kind: 'style', selector: '.mid', value: { color: 'red' } },
    '<li class="mid" style="color: red !important;">Torrin',
  ],
  [{ kind: 'classes', selector: 'h1', add: ['warm'], remove: ['big'] }, '<h1 class="warm">'],
  [{ kind: 'move', selector: '#fares h2', to: '#list', place: 'before' }, '<h2>Fares</h2><ul id="list">'],
  [{ kind: 'rearrange', selector: '#list', order: [2, 0, 1] }, '<li>Little Skell</li><li>Ennisay</li>'],
  [
    { kind: 'hide', selector: '#intro', keepsSpace: false },
    '<p id="intro" style="display: none !important;">Boats all year.',
  ],
  [
    { kind: 'remove', selector: 'li:nth-child(1)' },
    '<li hidden="" style="display: none !important;"></li><li class="mid"',
  ],
  [{ kind: 'css', value: 'h1 { color: red }' }, '<style>h1 { color: red }</style>'],
]
base('each kind of edit shows what it says', async ({ page }) => {
  await openPage(page)
  for (const [edit, expected] of EACH_KIND) expect((await appliedAndTakenBack(page, [edit])).during).toContain(expected)
})

base('selectors speak of the page as it is, whatever other edits do to it', async ({ page }) => {
  await openPage(page)
  const { during } = await appliedAndTakenBack(page, [
    { kind: 'rearrange', selector: '#list', order: [2, 1, 0] },
    { kind: 'remove', selector: 'li:nth-child(2)' },
    { kind: 'text', selector: 'li:nth-child(3)', value: 'The third' },
    { kind: 'insert', selector: 'h1', place: 'after', value: '<p id="new">New</p>' },
    { kind: 'text', selector: '#new', value: 'Newer' },
  ])
  expect(during).toContain('<li>The third</li>')
  expect(during).toContain('<li>Ennisay</li>')
  expect(during).not.toContain('Torrin')
  expect(during).toContain('<p id="new">Newer</p>')
})

base(
  'an edit for some window widths comes and goes with the window, and leaves the page as it was',
  async ({ page }) => {
    await openPage(page)
    await page.setViewportSize({ width: 1280, height: 800 })
    const pageHtml = () => page.evaluate(() => document.documentElement.outerHTML)
    const before = await pageHtml()
    const text = { kind: 'text', selector: '.mid' } as const
    const bold = { kind: 'style', selector: '#list', value: { 'font-weight': '700' } } as const
    const edits = orderEdits<EditContent & EditMarks>([
      { ...text, original: 'Torrin', value: 'T.', widths: { from: null, below: 640 } },
      { ...text, original: 'Torrin', value: 'Torrin island' },
      { ...text, original: 'Torrin', value: 'Torrin, the largest island', widths: { from: 1000, below: null } },
      { ...bold, original: {}, widths: { from: 500, below: 900 } },
    ]).map(deliveredEdit)
    await page.evaluate((wanted) => {
      const own = window as unknown as Keeping & { takeBack: () => void }
      own.takeBack = own.keepEdits(wanted)
    }, edits)
    const seen = async (width: number) => {
      await page.setViewportSize({ width, height: 800 })
      await page.evaluate(() => new Promise((frame) => requestAnimationFrame(() => requestAnimationFrame(frame))))
      return page.evaluate(() => [
        document.querySelector('.mid')!.textContent,
        document.querySelector<HTMLElement>('#list')!.style.fontWeight,
      ])
    }
    for (const [width, words, weight] of [
      [1280, 'Torrin, the largest island', ''],
      [899, 'Torrin island', '700'],
      [639, 'T.', '700'],
      [390, 'T.', ''],
      [640, 'Torrin island', '700'],
      [1000, 'Torrin, the largest island', ''],
      [500, 'T.', '700'],
      [999, 'Torrin island', ''],
    ] as const)
      expect(await seen(width), `${width} px`).toEqual([words, weight])
    // What the page draws anew has what its window asks for.
    await page.evaluate(() => {
      document.querySelector('.mid')!.outerHTML = '<li class="mid" style="color: blue">Torrin</li>'
    })
    expect((await seen(999))[0]).toBe('Torrin island')
    expect((await seen(400))[0]).toBe('T.')
    await page.evaluate(() => (window as unknown as { takeBack: () => void }).takeBack())
    expect(await pageHtml()).toBe(before)
  },
)

base('a move whose goal another edit takes away leaves the rest in force', async ({ page }) => {
  await openPage(page)
  const clues = { tag: 'h2', text: 'Fares', before: '', after: 'From 12 euro' }
  const { during, isAsBefore } = await appliedAndTakenBack(page, [
    { kind: 'html', selector: '#fares', value: '<p>Free</p>' },
    { kind: 'move', selector: '#intro', to: '#fares h2', place: 'after' },
    { kind: 'text', selector: '.mid', value: 'Kept' },
  ])
  expect(during).toContain('<section id="fares"><p>Free</p></section>')
  expect(during).toContain('>Kept</li>')
  expect(isAsBefore).toBe(true)
  // A goal whose selector finds nothing is found by what it says.
  const moved = { kind: 'move', selector: '#intro', to: '#gone', toClues: clues, place: 'after' } as const
  expect((await appliedAndTakenBack(page, [moved])).during).toContain('<h2>Fares</h2><p id="intro">')
})

base('a script runs by itself, once, after the edits; what it throws is an error of the page', async ({ page }) => {
  await openPage(page)
  const errors: string[] = []
  page.on('pageerror', ({ message }) => errors.push(message))
  const seen = await page.evaluate(
    (edits) => {
      const takeBack = (window as unknown as Keeping).keepEdits(edits)
      document.body.append('news')
      const [own] = [document.title]
      takeBack()
      return [own, document.title, 'own' in window]
    },
    [
      { kind: 'text', selector: 'h1', value: 'Changed' },
      {
        kind: 'script',
        value:
          'const own = document.querySelector("h1").textContent.trim(); document.title += own; return () => document.title = "gone"',
      },
      { kind: 'script', value: 'throw new Error("mistake")' },
    ] as DeliveredEdit[],
  )
  expect(seen).toEqual(['Changed', 'gone', false])
  await expect.poll(() => errors).toEqual(['mistake'])
})

base('ten thousand pieces of hostile HTML run nothing on a page as they are delivered', async ({ page }) => {
  const random = createRandom(11)
  const any = (list: readonly string[]) => list[Math.floor(random.uniform() * list.length)]!
  const names = [
    'p',
    'div',
    'svg',
    'math',
    'style',
    'title',
    'a',
    'table',
    'tr',
    'select',
    'option',
    'textarea',
    'form',
  ].concat(['noscript', 'template', 'iframe', 'mglyph', 'mtext', 'foreignObject', 'desc', 'xmp', 'b', 'img', 'p-p'])
  const run = ['<img src=x: onerror=ran()>', '<svg onload=ran()>', '<script>ran()</script>', '<style onload=ran()>']
  const token = (): string => {
    const name = any(names)
    switch (Math.floor(random.uniform() * 8)) {
      case 0:
      case 1:
        return `<${name}>`
      case 2:
        return `</${name}>`
      case 3:
        return any(run)
      case 4:
        return `<${name} ${any(['id', 'title', 'a"b', 'xlink:href', 'href'])}="${any(['</style>', '--&gt;', '</title>', 'javascript:ran()', '&lt;'])}${any(run)}">`
      case 5:
        return any(['<!--', '-->', '<![CDATA[', ']]>', '<!-->', '<?x', '"', '>'])
      case 6:
        return any(run).replaceAll('<', '&lt;')
      default:
        return 'words '
    }
  }
  const pieces = Array.from({ length: 10_000 }, () => Array.from({ length: 2 + random.uniform() * 9 }, token).join(''))
  await openPage(page)
  const ranBy = (htmls: readonly string[]) =>
    page.evaluate(async (each) => {
      let times = 0
      Object.assign(window, { ran: () => times++ })
      const read: string[] = []
      for (const html of each) {
        const template = document.createElement('template')
        template.innerHTML = html
        read.push(template.innerHTML)
        const place = document.createElement('div')
        place.append(...template.content.childNodes)
        document.body.append(place)
        place.innerHTML = place.innerHTML
        place.remove()
      }
      // What fails later than all of them: by then each of theirs has failed.
      await new Promise((failed) => Object.assign(new Image(), { onerror: failed, src: 'x:' }))
      return { times, read }
    }, htmls)
  // As they are they run: what the pieces are made of is hostile.
  expect((await ranBy(pieces.slice(0, 500))).times).toBeGreaterThan(100)
  const delivered = pieces.map(deliveredMarkup)
  const { times, read } = await ranBy(delivered)
  expect(times).toBe(0)
  // The browser reads the very tree that was checked.
  expect(read.filter((html, index) => html !== delivered[index])).toEqual([])
  expect(delivered.filter((html) => html.includes('<')).length).toBeGreaterThan(3000)
})

base('an element whose selector finds nothing is its text was used', async ({ page }) => {
  await openPage(page)
  const clues = { tag: 'h2', text: 'Fares', before: '', after: 'From 12 euro' }
  const lost = { kind: 'style', selector: '#gone', value: { color: 'red' } } as const
  const found = await appliedAndTakenBack(page, [{ ...lost, clues }])
  expect(found.during).toContain('<h2 style="color: red !important;">')
  // Two that say the same are told apart by what stands beside them, or not at all.
  await page
    .locator('#fares')
    .evaluate((element) => element.insertAdjacentHTML('afterend', '<h2>Fares</h2><p>Other</p>'))
  const twice = await appliedAndTakenBack(page, [{ ...lost, clues: { ...clues } }])
  expect(twice.during.match(/<h2 style="color: red !important;">/g)).toHaveLength(1)
  await page.locator('#fares + h2 + p').evaluate((element) => (element.textContent = 'From 12 euro'))
  await page.locator('#fares p').evaluate((element) => (element.textContent = 'From 12 euro'))
  const unclear = await appliedAndTakenBack(page, [{ ...lost, clues: { ...clues, before: 'x' } }])
  expect(unclear.during).toBe(unclear.before)
})

/** Starts an experiment in which nearly everybody gets these edits, on a site that serves pages of one's own. */
async function startWith(
  { database, demoOrigin, url }: World,
  edits: EditContent[],
  pageRule = '/',
): Promise<{ line: string; siteId: number }> {
  const [owner] = await database.insert(organisation).values({ name: drawThingId() }).returning()
  const { id: siteId, key } = await createSite(database, owner!.id, null, { address: demoOrigin, name: 'Edits' })
  await noteFirstReport(database, siteId)
  const { id } = await createExperiment(database, siteId, null, 'Edits')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: pageRule }],
    plan: PLAN,
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Changed', weight: 9999, edits: edits.map((edit, place) => ({ ...edit, id: `edit-000${place}` })) },
    ],
    metrics: [primaryMetric('Clicks', 'conversion', { type: 'click', selector: '#never' })],
  })
  await moveExperiment(database, target, 'start')
  return { line: scriptLine(url, key).replace('1.5s', '30s'), siteId }
}

async function serve(world: World, pages: Record<string, string>, script = ''): Promise<void> {
  await world.serve(
    createServer((request, response) => {
      const { pathname } = new URL(request.url ?? '/', world.demoOrigin)
      if (pathname === '/app.js') return response.writeHead(200, { 'content-type': 'text/javascript' }).end(script)
      const page = pages[pathname]
      return response.writeHead(page ? 200 : 404, { 'content-type': 'text/html' }).end(page)
    }),
  )
}

const KEPT_EDITS: EditContent[] = [
  { kind: 'text', selector: 'h1', original: 'One', value: 'Changed' },
  { kind: 'style', selector: 'h1', value: { color: 'rgb(255, 0, 0)' }, original: {} },
  { kind: 'classes', selector: 'p', add: ['warm'], remove: [] },
  { kind: 'attribute', selector: 'a', name: 'href', value: '/passes', original: '/book' },
  { kind: 'insert', selector: 'h1', place: 'after', value: '<em id="new">New</em>' },
  { kind: 'hide', selector: '#list li:first-child', keepsSpace: false },
]
const FRAMEWORKS: Record<string, string> = {
  'Vue 3': `
    import { createApp, h, ref } from 'vue'
    const n = ref(0)
    window.next = () => n.value++
    createApp({ render: () => h('main', { key: n.value % 3 }, [
      h('h1', { style: { fontSize: 20 + n.value + 'px' } }, 'One'), h('p', { class: 'n' + n.value }, String(n.value)),
      h('a', { href: '/book?n=' + n.value }, 'Book'), h('ul', { id: 'list' }, ['A', 'B'].map((each) => h('li', { key: each + n.value }, each)))
    ]) }).mount('#app')`,
  'React 19': `
    import { createElement as h, useState } from 'react'
    import { createRoot } from 'react-dom/client'
    function App() {
      const [n, set] = useState(0)
      window.next = () => set((each) => each + 1)
      return h('main', { key: n % 3 }, h('h1', { style: { fontSize: 20 + n } }, 'One'), h('p', { className: 'n' + n }, String(n)),
        h('a', { href: '/book?n=' + n }, 'Book'), h('ul', { id: 'list' }, ['A', 'B'].map((each) => h('li', { key: each + n }, each))))
    }
    createRoot(document.getElementById('app')).render(h(App))`,
}
for (const [name, source] of Object.entries(FRAMEWORKS)) {
  test(`what ${name} draws late and anew is changed when it appears and stays changed`, async ({ world, browser }) => {
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
    const { line } = await startWith(world, KEPT_EDITS)
    const late = `<!doctype html><html><head>${line}</head><body><div id="app"></div><script>setTimeout(() => { const s = document.createElement('script'); s.src = '/app.js'; document.body.append(s) }, 300)</script></body></html>`
    await serve(world, { '/': late }, bundle.outputFiles![0]!.text)
    const context = await newVisitor(browser)
    const page = await context.newPage()
    const errors: string[] = []
    page.on('pageerror', ({ message }) => errors.push(message))
    await page.goto(world.demoOrigin)
    const state = () =>
      page.evaluate(() => {
        const [h1, p, a] = ['h1', 'p', 'a'].map((each) => document.querySelector<HTMLElement>(each)!)
        const added = document.querySelectorAll('#new')
        const hidden = document.querySelector<HTMLElement>('#list li')!
        return [
          ...[h1!.textContent, getComputedStyle(h1!).color, p!.classList.contains('warm'), a!.getAttribute('href')],
          ...[added.length, h1!.nextElementSibling === added[0], hidden.style.display],
        ]
      })
    const changed = ['Changed', 'rgb(255, 0, 0)', true, '/passes', 1, true, 'none']
    await page.waitForFunction(() => 'next' in window)
    await expect.poll(state).toEqual(changed)
    for (let times = 1; times <= 40; times++) {
      await page.evaluate(() => (window as unknown as { next: () => void }).next())
      await expect(page.locator('p')).toHaveText(String(times))
      expect(await state()).toEqual(changed)
    }
    expect(errors).toEqual([])
    await context.close()
  })
}

test('a redirect takes the parameters along, shows nothing of the first page, counts, and leads in no circle', async ({
  world,
  browser,
}) => {
  const { line, siteId } = await startWith(world, [{ kind: 'redirect', value: '/by-day?view=week' }], '/timetable')
  const html = (name: string) => `<!doctype html><html><head>${line}</head><body><h1>${name}</h1></body></html>`
  await serve(world, { '/timetable': html('Old'), '/by-day': html('New') })
  const context = await newVisitor(browser)
  const page = await context.newPage()
  const seen: string[] = []
  await page.exposeFunction('noteSeen', (text: string) => seen.push(text))
  await page.addInitScript(() => {
    const look = () => {
      const h1 = document.querySelector('h1')
      const root = getComputedStyle(document.documentElement)
      if (h1 && root.visibility === 'visible' && root.opacity !== '0')
        (window as unknown as { noteSeen: (text: string) => void }).noteSeen(h1.textContent)
      requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
  await page.goto(`${world.demoOrigin}/timetable?utm_source=mail#noon`)
  await page.waitForURL('**/by-day**')
  expect(page.url()).toBe(`${world.demoOrigin}/by-day?view=week&utm_source=mail#noon`)
  await expect(page.locator('h1')).toHaveText('New')
  await reported(page)
  expect([...new Set(seen)]).toEqual(['New'])
  const [exposed, ...others] = await world.database.select().from(event).where(eq(event.siteId, siteId))
  expect([exposed!.type, exposed!.variant, others]).toEqual(['exposure', 1, []])
  // Back leads to where the visitor came from, and not to the redirect again.
  await page.goBack().catch(() => null)
  expect(page.url()).not.toContain('/timetable')
  await context.close()
})
