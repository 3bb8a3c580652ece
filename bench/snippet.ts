import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { brotliCompressSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import { browserProgram } from '../cli/stack/browser'
import type { DeliveredEdit } from '../core/edits/content'
import { createRandom } from '../demo/visitors/random'
import { renderSnippet } from '../server/services/sites/renderSnippet'
import { waitStyle } from '../shared/delivery/scriptLine'
import { SITE_FILE_FORMAT, type SiteFile, type SiteFileExperiment } from '../shared/delivery/siteFile'
import { rounded, sized, type Measurement } from './measurement'

type DeliveredText = Extract<DeliveredEdit, { kind: 'text' }>
type TextExperiment = Omit<SiteFileExperiment, 'edits'> & { edits: DeliveredText[][] }

const EXPERIMENTS = 10
const EDITS = 5
const RUNS = sized(21, 2)
const ROW = Array.from({ length: 40 }, (_, index) => index)

const SYLLABLES =
  'har bor fer ry is land sail ing morn cross tick et trav el sum mer deck quay boat turn book wind tide kit ti wake light stone'.split(
    ' ',
  )
const random = createRandom(7)
const word = () =>
  Array.from(
    { length: 1 + Math.floor(random.uniform() * 3) },
    () => SYLLABLES[Math.floor(random.uniform() * SYLLABLES.length)],
  ).join('')
const PHRASES = Array.from({ length: 80 }, () => Array.from({ length: 6 }, word).join(' '))
/** Texts that do not repeat each other, so that they compress no better than real ones. */
const phrase = (index: number) => PHRASES[index % PHRASES.length]!

/** Ten running experiments with five edits each, with texts as long as headlines and buttons are. */
function experiments(): TextExperiment[] {
  const editsOf = (experiment: number): DeliveredText[] =>
    Array.from({ length: EDITS }, (_, index) => ({
      kind: 'text',
      selector: `#e${experiment}-${index}`,
      value: phrase(experiment * EDITS + index + 3),
    }))
  return Array.from({ length: EXPERIMENTS }, (_, index) => ({
    kind: 'experiment',
    id: index + 1,
    salt: `salt-${index}`,
    share: 10_000,
    weights: [0, 1],

    audience: null,
    group: null,
    pages: [{ match: 'begins', value: '/' }],
    edits: [[], editsOf(index)],
  }))
}

function siteFile(): SiteFile {
  return {
    format: SITE_FILE_FORMAT,
    version: 1,
    key: 'benchbench',
    asksConsent: false,
    currency: 'EUR',
    parameters: ['utm_source', 'utm_medium', 'utm_campaign', 'utm_term', 'utm_content', 'ref'],
    entries: experiments(),
    amounts: [
      { page: { match: 'exact', value: '/book/done' }, selector: '#order-total', reference: { parameter: 'ref' } },
    ],
  }
}

function page(script: string): string {
  const elements = experiments().flatMap(({ edits }) =>
    edits[1]!.map(({ selector, value }) => `<p id="${selector.slice(1)}">${[...value].reverse().join('')}</p>`),
  )
  const filler = ROW.map((index) => `<section><h2>${phrase(index)}</h2><p>${phrase(index + 1)}</p></section>`)
  return `<!doctype html><html><head><meta charset="utf-8"><style>${waitStyle()}</style></head><body>${elements.join('')}${filler.join('')}<script src="/s/${script}.js"></script></body></html>`
}

/** What somebody would write by hand for the same edits, without deciding anything. */
function handWritten(): string {
  return experiments()
    .flatMap(({ edits }) =>
      edits[1]!.map(
        ({ selector, value }) =>
          `document.querySelector(${JSON.stringify(selector)}).textContent = ${JSON.stringify(value)}`,
      ),
    )
    .join('\n')
}

function median(values: number[]): number {
  return values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!
}

/** Milliseconds that a script takes on a page where its edits are still to be made. */
function runInline({ text, address }: { text: string; address: string }): { whole: number; decideAndApply: number } {
  for (const element of document.querySelectorAll('p[id^=e]')) element.textContent = 'as it was'
  // The line counts once on a page; here it is to run again.
  Reflect.deleteProperty(window, Symbol.for('vetch benchbench'))
  const inline = document.createElement('script')
  inline.textContent = text.replace(/\w+\.currentScript/, `({ src: ${JSON.stringify(address)} })`)
  // The page has long been painted, which would keep the snippet from changing anything.
  const entriesByName = performance.getEntriesByName.bind(performance)
  performance.getEntriesByName = () => []
  performance.clearMeasures()
  const began = performance.now()
  document.head.append(inline)
  const took = performance.now() - began
  if (document.querySelector('#e9-4')!.textContent === 'as it was') throw new Error('The edits were not applied.')
  return { whole: took, decideAndApply: entriesByName('vetch')[0]?.duration ?? took }
}

/** Size of the snippet with ten experiments, and its main-thread time against the same edits written by hand. */
export async function measureSnippet(): Promise<Measurement[]> {
  const built = readFileSync('.output/delivery/snippet.js', 'utf8')
  const { plain } = await renderSnippet(built, siteFile())
  const brotli = brotliCompressSync(plain)
  const size: Measurement = {
    name: 'snippet-size',
    value: brotli.length,
    unit: 'bytes brotli, with ten experiments of five edits',
    reference: {
      what: 'the site file alone, brotli',
      value: brotliCompressSync(JSON.stringify(siteFile())).length,
      ratio: rounded(brotli.length / brotliCompressSync(JSON.stringify(siteFile())).length),
    },
    aim: 'at most 8192',
    details: { plainBytes: Buffer.byteLength(plain) },
  }

  const withEveryKind = await renderSnippet(
    readFileSync('.output/delivery/snippetWithEveryKind.js', 'utf8'),
    siteFile(),
  )
  const largerSize: Measurement = {
    name: 'snippet-size, every kind of edit',
    value: brotliCompressSync(withEveryKind.plain).length,
    unit: 'bytes brotli, with the same experiments, where one of them needs more than texts',
    reference: {
      what: 'with texts only',
      value: brotli.length,
      ratio: rounded(brotliCompressSync(withEveryKind.plain).length / brotli.length),
    },
    aim: 'at most 10752',
  }

  const scripts: Record<string, string> = { '/s/snippet.js': plain, '/s/hand.js': handWritten() }
  const server = createServer((request, response) => {
    const script = scripts[request.url ?? '']
    response.writeHead(request.url === '/collect' ? 204 : 200, {
      'content-type': script ? 'text/javascript' : 'text/html',
      // Pages that are isolated get clocks of microseconds.
      'cross-origin-opener-policy': 'same-origin',
      'cross-origin-embedder-policy': 'require-corp',
    })
    response.end(script ?? page(request.url === '/with-hand' ? 'hand' : 'snippet'))
  })
  await new Promise<void>((started) => server.listen(0, '127.0.0.1', started))
  const { port } = server.address() as { port: number }
  const browser = await chromium.launch({
    executablePath: browserProgram(),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
  const measure = async (path: string, expected: string) => {
    const times: { whole: number; decideAndApply: number }[] = []
    for (let run = 0; run < RUNS; run++) {
      const context = await browser.newContext()
      const tab = await context.newPage()
      await tab.goto(`http://127.0.0.1:${port}${path}`)
      if ((await tab.locator('#e9-4').textContent()) !== expected)
        throw new Error(`The edits were not applied on ${path}.`)
      // Run once more as an inline script: that is evaluated at once, so the time holds no waiting for the network.
      const source = path === '/with-hand' ? '/s/hand.js' : '/s/snippet.js'
      times.push(
        await tab.evaluate(runInline, { text: scripts[source]!, address: `http://127.0.0.1:${port}${source}` }),
      )
      await context.close()
    }
    return {
      whole: median(times.map((each) => each.whole)),
      decideAndApply: median(times.map((each) => each.decideAndApply)),
    }
  }
  const expected = experiments()[9]!.edits[1]![4]!.value
  const snippet = await measure('/with-snippet', expected)
  const hand = await measure('/with-hand', expected)
  await browser.close()
  server.close()
  return [
    size,
    largerSize,
    {
      name: 'snippet-apply',
      value: rounded(snippet.decideAndApply, 3),
      unit: 'ms of main thread to decide and apply ten experiments of five edits',
      reference: {
        what: 'the same edits in a hand-written inline script, with its parsing',
        value: rounded(hand.whole, 3),
        ratio: rounded(snippet.decideAndApply / hand.whole, 3),
      },
      aim: 'ratio at most 2',
      details: { withParsingAndReporting: rounded(snippet.whole, 3) },
    },
  ]
}
