import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { chromium, type Browser, type Frame, type Page } from '@playwright/test'
import { build } from 'esbuild'
import { browserProgram } from '../cli/stack/browser'
import type { DeliveredEdit } from '../core/edits/content'
import { renderSnippet } from '../server/services/sites/renderSnippet'
import { waitStyle } from '../shared/delivery/scriptLine'
import { SITE_FILE_FORMAT, type SiteFile } from '../shared/delivery/siteFile'
import { percentile, rounded, sized, type Measurement } from './measurement'

const ELEMENTS = 5000
const RUNS = sized(40, 2)
const FLICKER_RUNS = sized(5, 1)
const HOVERS = sized(300, 20)
const COUNTS = [1, 10, 100]
const ROWS = ELEMENTS / 5

/** A page of as many elements, a thousand rows of five. */
const BODY = Array.from(
  { length: ROWS },
  (_, row) =>
    `<section id="s${row}"><h2 class="title">Title ${row}</h2><p>Some words in row ${row}</p><a href="/to/${row}">Go there</a><span>Small</span></section>`,
).join('')

/** Edits of all the kinds that people make most, one a row. */
function editsOf(count: number): DeliveredEdit[] {
  return Array.from({ length: count }, (_, place): DeliveredEdit => {
    const row = `#s${place * 7 + 3}`
    switch (place % 5) {
      case 0:
        return { kind: 'text', selector: `${row} h2`, value: `Changed ${place}` }
      case 1:
        return { kind: 'style', selector: `${row} p`, value: { color: 'red', 'margin-top': '4px' } }
      case 2:
        return { kind: 'attribute', selector: `${row} a`, name: 'href', value: `/other/${place}` }
      case 3:
        return { kind: 'insert', selector: `${row} p`, place: 'after', value: `<p>New ${place}</p>` }
      default:
        return { kind: 'classes', selector: `${row} h2`, add: ['warm'], remove: ['title'] }
    }
  })
}

/** What somebody would write by hand for the same edits. */
function handWritten(edits: readonly DeliveredEdit[]): string {
  return edits
    .map((edit) => {
      const element = 'selector' in edit ? `document.querySelector(${JSON.stringify(edit.selector)})` : ''
      switch (edit.kind) {
        case 'text':
          return `${element}.textContent = ${JSON.stringify(edit.value)}`
        case 'style':
          return `{ const { style } = ${element}; ${Object.entries(edit.value)
            .map(([name, value]) => `style.setProperty('${name}', '${value}', 'important')`)
            .join(';')} }`
        case 'attribute':
          return `${element}.setAttribute('${edit.name}', ${JSON.stringify(edit.value)})`
        case 'insert':
          return `${element}.insertAdjacentHTML('afterend', ${JSON.stringify(edit.value)})`
        case 'classes':
          return `{ const { classList } = ${element}; classList.add('warm'); classList.remove('title') }`
        default:
          return ''
      }
    })
    .join('\n')
}

interface Keeping {
  keepEdits: (edits: DeliveredEdit[]) => () => void
}

/** Applying one, ten and a hundred edits on a page of 5,000 elements, against the same written by hand. */
async function measureApplying(browser: Browser, origin: string): Promise<Measurement[]> {
  const bundle = await build({
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
    minify: true,
  })
  const measurements: Measurement[] = []
  for (const count of COUNTS) {
    const edits = editsOf(count)
    const times = { applied: [] as number[], byHand: [] as number[] }
    const page = await browser.newPage()
    // Each on a page of its own: whoever comes second finds what the browser has read for the first.
    for (let run = 0; run < 2 * RUNS; run++) {
      await page.goto(`${origin}/plain`)
      await page.addScriptTag({ content: bundle.outputFiles![0]!.text })
      const isByHand = run % 2 === 1
      const taken = await page.evaluate(
        ({ wanted, byHand }) => {
          const script = new Function(byHand ?? '') as () => void
          const { keepEdits } = window as unknown as Keeping
          const began = performance.now()
          if (byHand === null) keepEdits(wanted)
          else script()
          return performance.now() - began
        },
        { wanted: edits, byHand: isByHand ? handWritten(edits) : null },
      )
      ;(isByHand ? times.byHand : times.applied).push(taken)
    }
    await page.close()
    const [applied, byHand] = [percentile(times.applied, 0.5), percentile(times.byHand, 0.5)]
    measurements.push({
      name: `edit-apply ${count}`,
      value: rounded(applied, 3),
      unit: `ms to apply and watch ${count} edits on a page of ${ELEMENTS} elements`,
      reference: {
        what: 'the same edits written by hand',
        value: rounded(byHand, 3),
        ratio: rounded(applied / byHand, 3),
      },
      aim: 'ratio at most 2',
    })
  }
  return measurements
}

/** A running experiment in which everybody gets the edits. */
function siteFile(edits: DeliveredEdit[]): SiteFile {
  return {
    format: SITE_FILE_FORMAT,
    version: 1,
    key: 'benchbench',
    asksConsent: false,
    currency: 'EUR',

    parameters: [],
    amounts: [],
    entries: [
      {
        kind: 'experiment',
        id: 1,
        salt: 'flicker',
        share: 10_000,
        weights: [0, 1],
        audience: null,
        group: null,
        pages: [{ match: 'begins', value: '/' }],
        edits: [[], edits],
      },
    ],
  }
}

/** Notes at every frame whether original content can be seen. */
const SAMPLE_FRAMES = `
  window.seen = { frames: 0, original: 0 }
  requestAnimationFrame(function look() {
    const title = document.querySelector('#s3 h2')
    if (title && getComputedStyle(document.documentElement).visibility === 'visible') {
      seen.frames++
      if (title.textContent.startsWith('Title')) seen.original++
    }
    requestAnimationFrame(look)
  })`

/** The share of frames that show the original, on a slow phone with a slow network. */
async function measureFlicker(browser: Browser, origin: string): Promise<Measurement> {
  const total = { frames: 0, original: 0 }
  for (let run = 0; run < FLICKER_RUNS; run++) {
    const context = await browser.newContext()
    const page = await context.newPage()
    await page.addInitScript({ content: SAMPLE_FRAMES })
    const client = await context.newCDPSession(page)
    await client.send('Network.enable')
    await client.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 150,
      downloadThroughput: (1.6 * 1024 * 1024) / 8,
      uploadThroughput: (750 * 1024) / 8,
    })
    await client.send('Emulation.setCPUThrottlingRate', { rate: 4 })
    await page.goto(`${origin}/flicker`)
    await page.waitForTimeout(1500)
    const seen = await page.evaluate(() => (window as unknown as { seen: typeof total }).seen)
    total.frames += seen.frames
    total.original += seen.original
    await context.close()
  }
  if (total.frames === 0) throw new Error('No frame of the page was seen.')
  return {
    name: 'flicker',
    value: rounded(total.original / total.frames),
    unit: 'share of frames that show original content, on slow 4G with a CPU slowed down four times',
    aim: '0',
    details: { frames: total.frames, original: total.original },
  }
}

/** How long the page is busy with each move of the pointer while somebody points at it. */
async function measureOverlay(page: Page, origin: string): Promise<Measurement> {
  await page.goto(`${origin}/framed`)
  const frame = page.frames().find((each) => each.url().includes('/pointed')) as Frame
  await frame.waitForFunction(() => document.querySelector('vetch-marker') !== null)
  const times = await frame.evaluate((hovers) => {
    const elements = [...document.querySelectorAll('h2, p, a, span')]
    return Array.from({ length: hovers }, (_, index) => {
      const began = performance.now()
      elements[(index * 37) % elements.length]!.dispatchEvent(new PointerEvent('pointermove', { bubbles: true }))
      return performance.now() - began
    })
  }, HOVERS)
  return {
    name: 'overlay-frame',
    value: rounded(percentile(times, 0.95), 3),
    unit: `ms of main thread for a move of the pointer, 95th of 100, on a page of ${ELEMENTS} elements`,
    reference: { what: 'a frame at 60 a second, in ms', value: 16, ratio: rounded(percentile(times, 0.95) / 16, 3) },
    aim: 'under 16',
    details: { median: rounded(percentile(times, 0.5), 3), most: rounded(Math.max(...times), 3) },
  }
}

/** Edits on a large page: how long they take, whether the original flashes, and how the overlay keeps up. */
export async function measureEdits(): Promise<Measurement[]> {
  const delivery = (name: string) => readFileSync(`.output/delivery/${name}.js`, 'utf8')
  const { plain } = await renderSnippet(delivery('snippetWithEveryKind'), siteFile(editsOf(100)))
  const scripts: Record<string, string> = { '/s/benchbench.js': plain, '/overlay.js': delivery('overlay') }
  const page = (head: string) =>
    `<!doctype html><html><head><meta charset="utf-8">${head}</head><body>${BODY}</body></html>`
  const pages: Record<string, string> = {
    '/plain': page(''),
    '/flicker': page(`<style>${waitStyle()}</style><script async src="/s/benchbench.js"></script>`),
    '/pointed': page('<script src="/overlay.js?key=benchbench&token=1.1.x"></script>'),
    '/framed': '<!doctype html><iframe src="/pointed" width="1200" height="700"></iframe>',
  }
  const server = createServer((request, response) => {
    const { pathname } = new URL(request.url ?? '/', 'http://bench.invalid')
    const script = scripts[pathname]
    response
      .writeHead(pathname === '/collect' ? 204 : 200, {
        'content-type': script ? 'text/javascript' : 'text/html',
        // Pages that are isolated get clocks of microseconds.
        ...(pathname === '/plain'
          ? { 'cross-origin-opener-policy': 'same-origin', 'cross-origin-embedder-policy': 'require-corp' }
          : {}),
      })
      .end(script ?? pages[pathname] ?? '')
  })
  await new Promise<void>((started) => server.listen(0, '127.0.0.1', started))
  const { port } = server.address() as { port: number }
  const origin = `http://127.0.0.1:${port}`
  const browser = await chromium.launch({
    executablePath: browserProgram(),
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  })
  try {
    return [
      ...(await measureApplying(browser, origin)),
      await measureFlicker(browser, origin),
      await measureOverlay(await browser.newPage(), origin),
    ]
  } finally {
    await browser.close()
    server.close()
  }
}
