import { readFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { chromium, type Browser, type Page } from '@playwright/test'
import { browserProgram } from '../cli/stack/browser'
import { renderSnippet } from '../server/services/sites/renderSnippet'
import { scriptLine } from '../shared/delivery/scriptLine'
import { SITE_FILE_FORMAT, type SiteFile } from '../shared/delivery/siteFile'
import { isQuick, percentile, rounded, sized, type Measurement } from './measurement'

/** Networks and processors that people have, slower and slower. */
const PROFILES = [
  { name: 'desk', roundTrip: 20, kilobytesASecond: 1250, slowdown: 1 },
  { name: 'laptop on the road', roundTrip: 70, kilobytesASecond: 500, slowdown: 2 },
  { name: 'phone', roundTrip: 150, kilobytesASecond: 200, slowdown: 4 },
]
type Profile = (typeof PROFILES)[number]
const RUNS = sized(9, 1)
const KEY = 'benchbench'
/** What a page that nothing runs on may be painted later, from the second view on, in ms. */
const MOST_LATER = 20

/** Without the line, with it where nothing runs on the page, and where its headline is tested. */
const LINES = ['without', 'idle', 'tested'] as const
type Line = (typeof LINES)[number]
const WEIGHTS = ['light', 'heavy'] as const
type Weight = (typeof WEIGHTS)[number]

interface Paints {
  first: number
  largest: number
}

function siteFile(line: Line): SiteFile {
  return {
    format: SITE_FILE_FORMAT,
    version: 1,
    key: KEY,
    asksConsent: false,
    currency: 'EUR',
    parameters: [],
    entries:
      line === 'tested'
        ? [
            {
              kind: 'experiment',
              id: 1,
              salt: 'salt',
              share: 10_000,
              weights: [0, 1],
              audience: null,
              group: null,
              pages: [{ match: 'begins', value: '/' }],
              edits: [[], [{ kind: 'text', selector: 'h1', value: 'Three islands, and a boat to each' }]],
            },
          ]
        : [],
    amounts: [],
  }
}

/** A page as small shops have it, or one with a large style sheet, a script that works, and two thousand elements. */
function pageOf(weight: Weight, line: string): string {
  const rows = Array.from(
    { length: weight === 'heavy' ? 400 : 10 },
    (_, index) =>
      `<section><h2>Crossing ${index}</h2><p>Leaves at <b>${index % 24}:00</b> from the quay.</p></section>`,
  )
  const more =
    weight === 'heavy' ? '<link rel="stylesheet" href="/large.css"><script src="/busy.js" defer></script>' : ''
  return `<!doctype html><html><head><meta charset="utf-8">${line}<link rel="stylesheet" href="/small.css">${more}</head><body><h1>Three islands, one small harbor</h1>${rows.join('')}<img src="/boat.svg" width="900" height="300"></body></html>`
}

const LARGE_STYLE = Array.from(
  { length: 4000 },
  (_, index) => `.block-${index} p{margin:${index % 9}px;color:#333}`,
).join('')
const BUSY_SCRIPT = 'for(let until=performance.now()+30;performance.now()<until;);'
const FILES: Record<string, [type: string, text: string]> = {
  '/small.css': ['text/css', 'body{font:16px sans-serif;margin:2rem}section{border-bottom:1px solid #ccc}'],
  '/large.css': ['text/css', LARGE_STYLE],
  '/busy.js': ['text/javascript', BUSY_SCRIPT],
  '/boat.svg': [
    'image/svg+xml',
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 3"><path d="M0 0h9v3H0z"/></svg>',
  ],
}

/** Listens on a port of its own, which makes it another origin. */
function listen(answer: Parameters<typeof createServer>[1]): Promise<{ server: Server; origin: string }> {
  const server = createServer(answer!)
  return new Promise((started) =>
    server.listen(0, '127.0.0.1', () => {
      const address = server.address()
      const port = typeof address === 'object' && address ? address.port : 0
      started({ server, origin: `http://127.0.0.1:${port}` })
    }),
  )
}

/** Vetch as its edge answers, with a path for each line. */
async function serveVetch(): Promise<{ server: Server; origin: string }> {
  const built = readFileSync('.output/delivery/snippet.js', 'utf8')
  const scripts: Partial<Record<string, Buffer>> = {}
  for (const line of LINES) {
    const file = await renderSnippet(built, siteFile(line))
    scripts[`/${line}/s/${KEY}.js`] = file.brotli
  }
  return listen((request, response) => {
    const script = scripts[request.url ?? '']
    if (!script)
      return response.writeHead(200, { 'access-control-allow-origin': '*' }).end('{"accepted":0,"refused":[]}')
    const headers = {
      'content-type': 'text/javascript',
      'content-encoding': 'br',
      'cache-control': 'public, max-age=10, stale-while-revalidate=3600',
    }
    return response.writeHead(200, headers).end(script)
  })
}

/** The site, with a path for each weight of page and each line. */
function serveSite(vetch: string): Promise<{ server: Server; origin: string }> {
  return listen((request, response) => {
    const { pathname } = new URL(request.url ?? '/', 'http://bench.invalid')
    const file = FILES[pathname]
    const caching = { 'cache-control': 'public, max-age=3600' }
    if (file) return response.writeHead(200, { 'content-type': file[0], ...caching }).end(file[1])
    const [, weight, line] = pathname.split('/') as [string, Weight, Line]
    const html = pageOf(weight, line === 'without' ? '' : scriptLine(`${vetch}/${line}`, KEY))
    return response.writeHead(200, { 'content-type': 'text/html' }).end(html)
  })
}

/** When something was painted first, and when the largest of it was, in ms since the page was asked for. */
async function paintsOf(page: Page, address: string): Promise<Paints> {
  await page.goto(address, { waitUntil: 'load' })
  return page.evaluate(async () => {
    while (performance.getEntriesByName('first-contentful-paint').length === 0)
      await new Promise((frame) => requestAnimationFrame(frame))
    // What comes after the load counts, too.
    await new Promise((later) => setTimeout(later, 400))
    const entries = await new Promise<PerformanceEntryList>((told) => {
      new PerformanceObserver((list) => told(list.getEntries())).observe({
        type: 'largest-contentful-paint',
        buffered: true,
      })
      setTimeout(() => told([]), 1000)
    })
    const first = performance.getEntriesByName('first-contentful-paint')[0]!.startTime
    return { first, largest: entries.at(-1)?.startTime ?? first }
  })
}

/** The first two views of somebody new. */
async function visit(
  browser: Browser,
  origin: string,
  profile: Profile,
  weight: Weight,
  line: Line,
): Promise<[Paints, Paints]> {
  const context = await browser.newContext()
  const page = await context.newPage()
  const session = await context.newCDPSession(page)
  const throughput = profile.kilobytesASecond * 1024
  await session.send('Network.enable')
  await session.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: profile.roundTrip,
    downloadThroughput: throughput,
    uploadThroughput: throughput,
  })
  await session.send('Emulation.setCPUThrottlingRate', { rate: profile.slowdown })
  const first = await paintsOf(page, `${origin}/${weight}/${line}/a`)
  const second = await paintsOf(page, `${origin}/${weight}/${line}/b`)
  await context.close()
  return [first, second]
}

/** How much later pages are painted for the line, at the first view and at the next, with and without a test. */
export async function measurePageCost(): Promise<Measurement[]> {
  const vetch = await serveVetch()
  const site = await serveSite(vetch.origin)
  const browser = await chromium.launch({
    executablePath: browserProgram(),
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  })
  const measurements: Measurement[] = []
  try {
    for (const profile of isQuick ? PROFILES.slice(0, 1) : PROFILES) {
      for (const weight of WEIGHTS) {
        const runs: Record<Line, [Paints, Paints]>[] = []
        for (let run = 0; run < RUNS; run++) {
          const views = {} as Record<Line, [Paints, Paints]>
          for (const line of LINES) views[line] = await visit(browser, site.origin, profile, weight, line)
          runs.push(views)
        }
        measurements.push(costOf(profile, weight, runs))
      }
    }
  } finally {
    await browser.close()
    site.server.close()
    vetch.server.close()
  }
  return measurements
}

function costOf({ name }: Profile, weight: Weight, runs: readonly Record<Line, [Paints, Paints]>[]): Measurement {
  const median = (values: number[]) => percentile(values, 0.5)
  const paint = (line: Line, view: 0 | 1, of: keyof Paints) => median(runs.map((run) => run[line][view][of]))
  const later = (line: Line, view: 0 | 1, of: keyof Paints) =>
    rounded(median(runs.map((run) => run[line][view][of] - run.without[view][of])), 3)
  const extra = later('idle', 1, 'first')
  const claim = `a ${weight} page that nothing runs on is painted at most ${MOST_LATER} ms later from the second view on (${name})`
  return {
    name: `page-cost, ${weight} page, ${name}`,
    value: rounded(paint('idle', 1, 'first'), 3),
    unit: 'ms to the first paint of the second view, where nothing runs',
    reference: {
      what: 'the same page without the line',
      value: rounded(paint('without', 1, 'first'), 3),
      ratio: rounded(paint('idle', 1, 'first') / paint('without', 1, 'first'), 3),
    },
    aim: `at most ${MOST_LATER} ms more`,
    details: {
      claim,
      holds: extra <= MOST_LATER,
      laterByMs: {
        firstView: { idle: later('idle', 0, 'first'), tested: later('tested', 0, 'first') },
        firstViewLargest: { idle: later('idle', 0, 'largest'), tested: later('tested', 0, 'largest') },
        secondView: { idle: extra, tested: later('tested', 1, 'first') },
        secondViewLargest: { idle: later('idle', 1, 'largest'), tested: later('tested', 1, 'largest') },
      },
    },
  }
}
