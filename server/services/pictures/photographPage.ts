import type { Browser, BrowserContextOptions, Page, Route } from 'playwright-core'
import type { DeliveredEdit } from '../../../core/edits/content'
import type { MeasuredPage } from '../../../core/layout/measuredPage'
import { PLACES_MARK, type ElementPlace } from '../../../shared/pictures/pagePicture'
import {
  LAYOUT_MARK,
  measuredPageSchema,
  pageStandingSchema,
  type Device,
  type PageStanding,
} from '../../../shared/pictures/variantPicture'
import { array, number, string, tuple } from '../../../shared/yup'
import { HttpProblem } from '../HttpProblem'
import { fetchGuarded } from '../sites/fetchGuarded'
import type { Reach } from '../sites/reach'
import { withBrowser } from './withBrowser'

const NAME = 'Vetch pictures'
const SECONDS = 12
/** All of a picture: loading, edits, measuring. */
const MOST_SECONDS = 20
/** What edits bring along is waited for this long. */
const SETTLED_SECONDS = 3
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
const PASSED_ON = new Set(['content-type', 'content-language', 'access-control-allow-origin', 'cache-control'])

/** How a page is looked at: in a window of some width, or on a device. */
type SeenBy = { width: number } | { device: Device; language: string }

/** Where what a page asks for comes from. */
export interface PageResources {
  /** What may lie on private addresses. */
  reach: Reach
  /** What Vetch itself serves to pages, by its path; null for anything else. */
  ownResource?: (path: string) => Promise<{ type: string; content: Buffer } | null>
}

export interface VariantPhotograph {
  /** JPEG. */
  content: Buffer
  height: number
  measured: MeasuredPage
}
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
 * @param reach - what may lie on private addresses
 * @throws HttpProblem 503 where there is no browser, 422 where the page cannot be had
 */
export function photographElement(
  address: string,
  { selector, width }: { selector: string; width: number },
  reach: Reach,
): Promise<Photograph> {
  return withPage(address, { width }, { reach }, async (page) => {
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
  reach: Reach,
): Promise<WholePhotograph> {
  return withPage(address, { width }, { reach }, async (page) => {
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

/**
 * A picture of a whole page with edits, as a device has it, and how it is laid out.
 *
 * @param layoutScript - the script `delivery/layout`
 * @throws as `photographElement`
 */
export function photographVariant(
  address: string,
  seenBy: { device: Device; language: string },
  edits: readonly DeliveredEdit[],
  resources: PageResources & { layoutScript: string },
): Promise<VariantPhotograph> {
  const { width } = seenBy.device
  return withPage(address, seenBy, resources, async (page) => {
    await page.addScriptTag({ content: resources.layoutScript })
    const layout = `window[Symbol.for('${LAYOUT_MARK}')]`
    await page.evaluate(`${layout}.apply(${JSON.stringify(edits)})`)
    await page.waitForLoadState('networkidle', { timeout: SETTLED_SECONDS * 1000 }).catch(() => {})
    const measured = measuredPageSchema.validateSync(await page.evaluate(`${layout}.measure()`)) as MeasuredPage
    const tall = Number(await page.evaluate('document.documentElement.scrollHeight'))
    const height = Math.max(HEIGHT, Math.min(TALLEST, tall))
    const clip = { x: 0, y: 0, width, height }
    const content = await page.screenshot({ type: 'jpeg', quality: QUALITY, fullPage: true, clip })
    return { content, height, measured }
  })
}

/**
 * How edits stand to a page as the site itself has it.
 *
 * @param layoutScript - the script `delivery/layout`
 * @throws as `photographElement`
 */
export function lookAtStanding(
  address: string,
  seenBy: { device: Device; language: string },
  edits: readonly DeliveredEdit[],
  resources: PageResources & { layoutScript: string },
): Promise<PageStanding> {
  return withPage(address, seenBy, resources, async (page, status) => {
    // What is to be hidden is on no page of an error: that says nothing.
    if (status >= 400) throw new HttpProblem(422, `${address} answers with ${status}. Look again once it is there.`)
    await page.addScriptTag({ content: resources.layoutScript })
    const said: unknown = await page.evaluate(`window[Symbol.for('${LAYOUT_MARK}')].stand(${JSON.stringify(edits)})`)
    return pageStandingSchema.validateSync(said) as PageStanding
  })
}

/** Opens a page. The browser fetches nothing itself: every resource comes through a guarded agent, and nothing is sent. */
async function withPage<Taken>(
  address: string,
  seenBy: SeenBy,
  resources: PageResources,
  take: (page: Page, status: number) => Promise<Taken>,
): Promise<Taken> {
  return withBrowser(MOST_SECONDS * 1000, async (browser) => {
    try {
      const { page, status } = await openPage(browser, address, seenBy, resources)
      return await take(page, status)
    } catch (error) {
      if (error instanceof HttpProblem) throw error
      throw new HttpProblem(422, `No picture was taken: ${address} did not come within ${SECONDS} seconds.`)
    }
  })
}

async function openPage(
  browser: Browser,
  address: string,
  seenBy: SeenBy,
  resources: PageResources,
): Promise<{ page: Page; status: number }> {
  const context = await browser.newContext({ ...contextOf(seenBy), serviceWorkers: 'block', bypassCSP: true })
  // Peers are met by UDP, which no guarded agent sees.
  await context.addInitScript(() => {
    for (const name of ['RTCPeerConnection', 'webkitRTCPeerConnection']) Reflect.deleteProperty(globalThis, name)
  })
  let problem: HttpProblem | null = null
  await context.route('**/*', async (route) => {
    try {
      await fulfill(route, resources)
    } catch (error) {
      if (error instanceof HttpProblem && route.request().isNavigationRequest()) problem = error
      await route.abort().catch(() => {})
    }
  })
  const page = await context.newPage()
  page.setDefaultTimeout(SECONDS * 1000)
  const response = await page.goto(address, { waitUntil: 'load' }).catch((error: unknown) => {
    throw problem ?? error
  })
  await page.addStyleTag({ content: SHOWN })
  return { page, status: response?.status() ?? 200 }
}

/** What a page is told of whoever looks at it. */
function contextOf(seenBy: SeenBy): BrowserContextOptions {
  if ('width' in seenBy) return { viewport: { width: seenBy.width, height: HEIGHT } }
  const { device, language } = seenBy
  const { width, height, isTouch, userAgent } = device
  return { viewport: { width, height }, isMobile: isTouch, hasTouch: isTouch, userAgent, locale: language }
}

/** Hands the browser what it asks for. */
async function fulfill(route: Route, { reach, ownResource }: PageResources): Promise<void> {
  const request = route.request()
  if (request.method() !== 'GET') return route.abort()
  const own = await ownResource?.(new URL(request.url()).pathname)
  if (own) return route.fulfill({ status: 200, contentType: own.type, body: own.content })
  const { accept = '*/*', 'accept-language': language, 'user-agent': device } = request.headers()
  const wanted = { userAgent: ownResource ? `${device} ${NAME}` : NAME, accept, language, most: LARGEST_RESOURCE }
  const { status, headers, body } = await fetchGuarded(request.url(), reach, wanted)
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
