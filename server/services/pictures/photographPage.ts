import { existsSync } from 'node:fs'
import { chromium, type Browser, type Page, type Route } from 'playwright-core'
import { PLACES_MARK, type ElementPlace } from '../../../shared/pagePicture'
import { array, number, string, tuple } from '../../../shared/yup'
import { HttpProblem } from '../HttpProblem'
import { fetchGuarded } from '../sites/fetchGuarded'

/** Where Debian puts Chromium. */
const BROWSERS = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium']
const SECONDS = 20
const LARGEST_RESOURCE = 10 * 1024 * 1024
const HEIGHT = 800
const TALLEST = 20_000
const QUALITY = 80
/** Without the snippet, which is not fetched, the script line keeps a page hidden for a while. */
const SHOWN = 'html { visibility: visible !important; animation: none !important }'
/** What comes later than this is not on the page. */
const ELEMENT_SECONDS = 3
const OUTLINE =
  'outline: 3px solid #8a1c5c !important; outline-offset: 4px !important; box-shadow: 0 0 0 4px #fff !important'
/** No port answers here: what does not come through Vetch's own hands comes nowhere. */
const NO_PROXY = 'http://127.0.0.1:9'
const PASSED_ON = new Set(['content-type', 'content-language', 'access-control-allow-origin', 'cache-control'])

export interface Photograph {
  /** JPEG. */
  content: Buffer
  /** Whether the element is on the page. */
  isFound: boolean
}
export interface WholePhotograph {
  /** JPEG. */
  content: Buffer
  height: number
  places: ElementPlace[]
}

/**
 * A picture of a page around one of its elements, which is outlined.
 *
 * @param address - absolute address of the page
 * @param trustedOrigins - origins that may lie on private addresses (the demo site)
 * @throws HttpProblem 503 where there is no browser, 422 where the page cannot be had
 */
export function photographElement(
  address: string,
  { selector, width }: { selector: string; width: number },
  trustedOrigins: readonly string[],
): Promise<Photograph> {
  return withPage(address, width, trustedOrigins, async (page) => {
    const isFound = await outline(page, selector)
    return { content: await page.screenshot({ type: 'jpeg', quality: QUALITY }), isFound }
  })
}

/**
 * A picture of a whole page from top to bottom, with where its elements stand.
 *
 * @param listPlaces - the script `delivery/places`
 * @throws as `photographElement`
 */
export function photographWhole(
  address: string,
  width: number,
  listPlaces: string,
  trustedOrigins: readonly string[],
): Promise<WholePhotograph> {
  return withPage(address, width, trustedOrigins, async (page) => {
    await page.addScriptTag({ content: listPlaces })
    const places = placesSchema.validateSync(
      await page.evaluate(`window[Symbol.for('${PLACES_MARK}')]()`),
    ) as ElementPlace[]
    const tall = Number(await page.evaluate('document.documentElement.scrollHeight'))
    const height = Math.max(HEIGHT, Math.min(TALLEST, tall))
    const clip = { x: 0, y: 0, width, height }
    return { content: await page.screenshot({ type: 'jpeg', quality: QUALITY, fullPage: true, clip }), height, places }
  })
}

/** What a page says of itself is checked like everything that comes from outside. */
const pixels = () => number().strict().min(-100_000).max(1_000_000).required()
const placesSchema = array(tuple([string().strict().max(2000).required(), pixels(), pixels(), pixels(), pixels()]))
  .max(5000)
  .required()

let last: Promise<unknown> = Promise.resolve()

/** Pictures are taken one after the other: each is a browser of its own. */
function inTurn<Taken>(take: () => Promise<Taken>): Promise<Taken> {
  const turn = last.then(take, take)
  last = turn.catch(() => {})
  return turn
}

/** Opens a page. The browser fetches nothing itself: every resource comes through a guarded agent, and nothing is sent. */
async function withPage<Taken>(
  address: string,
  width: number,
  trustedOrigins: readonly string[],
  take: (page: Page) => Promise<Taken>,
): Promise<Taken> {
  const executablePath = BROWSERS.find((program) => existsSync(program))
  if (!executablePath) throw new HttpProblem(503, 'No picture was taken: Chromium is not installed where Vetch runs.')
  // The sandbox asks for rights that root in a container does not have.
  const args = process.getuid?.() === 0 ? ['--no-sandbox'] : []
  return inTurn(async () => {
    const browser = await chromium.launch({ executablePath, args, proxy: { server: NO_PROXY } })
    try {
      return await take(await openPage(browser, address, width, trustedOrigins))
    } catch (error) {
      if (error instanceof HttpProblem) throw error
      throw new HttpProblem(422, `No picture was taken: ${address} did not come within ${SECONDS} seconds.`)
    } finally {
      await browser.close()
    }
  })
}

async function openPage(
  browser: Browser,
  address: string,
  width: number,
  trustedOrigins: readonly string[],
): Promise<Page> {
  const viewport = { width, height: HEIGHT }
  const context = await browser.newContext({ viewport, serviceWorkers: 'block', bypassCSP: true })
  let problem: HttpProblem | null = null
  await context.route('**/*', async (route) => {
    try {
      await fulfill(route, trustedOrigins)
    } catch (error) {
      if (error instanceof HttpProblem && route.request().isNavigationRequest()) problem = error
      await route.abort().catch(() => {})
    }
  })
  const page = await context.newPage()
  page.setDefaultTimeout(SECONDS * 1000)
  await page.goto(address, { waitUntil: 'load' }).catch((error: unknown) => {
    throw problem ?? error
  })
  await page.addStyleTag({ content: SHOWN })
  return page
}

/** Hands the browser what it asks for. */
async function fulfill(route: Route, trustedOrigins: readonly string[]): Promise<void> {
  const request = route.request()
  if (request.method() !== 'GET') return route.abort()
  const accept = request.headers().accept ?? '*/*'
  const wanted = { userAgent: 'Vetch pictures', accept, most: LARGEST_RESOURCE }
  const { status, headers, body } = await fetchGuarded(request.url(), trustedOrigins, wanted)
  await route.fulfill({
    status,
    headers: Object.fromEntries(headers.filter(([name]) => PASSED_ON.has(name))),
    body,
  })
}

/** Brings an element into view and draws a line around it. */
async function outline(page: Page, selector: string): Promise<boolean> {
  const element = page.locator(selector).first()
  const isFound = await element
    .scrollIntoViewIfNeeded({ timeout: ELEMENT_SECONDS * 1000 })
    .then(() => true)
    .catch(() => false)
  if (isFound) await page.addStyleTag({ content: `${selector} { ${OUTLINE} }` })
  return isFound
}
