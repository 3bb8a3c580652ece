import { expect, type Browser, type BrowserContext, type BrowserContextOptions, type Page } from '@playwright/test'

interface Sampled {
  painted: string[]
}

/** Notes, at every animation frame, which headline can be seen. */
function sampleHeadline(): void {
  const seen: string[] = []
  const sample = () => {
    const headline = document.querySelector('h1')
    if (
      headline &&
      getComputedStyle(headline).visibility === 'visible' &&
      headline.textContent &&
      !seen.includes(headline.textContent)
    )
      seen.push(headline.textContent)
    requestAnimationFrame(sample)
  }
  requestAnimationFrame(sample)
  Object.assign(window, { painted: seen })
}

/** A person with a browser of their own. */
export async function newVisitor(browser: Browser, options: BrowserContextOptions = {}): Promise<BrowserContext> {
  const context = await browser.newContext(options)
  await context.addInitScript(sampleHeadline)
  return context
}

/** Gives a page a clock that `page.clock.fastForward` moves on; what the browser notes of its loading stays true. */
export async function withClock(page: Page): Promise<void> {
  await page.context().addInitScript(() => Object.assign(window, { ownPerformance: performance }))
  await page.clock.install()
  await page.addInitScript(() => {
    const own = (window as unknown as { ownPerformance: Performance }).ownPerformance
    performance.getEntriesByName = own.getEntriesByName.bind(own)
    performance.getEntriesByType = own.getEntriesByType.bind(own)
    performance.measure = (name, options) => own.measure(name, { end: performance.now(), ...(options as object) })
  })
}

/** Opens a page and returns every headline that could be seen on it, from the first frame on. */
export async function headlinesSeen(page: Page, address: string): Promise<string[]> {
  await page.goto(address)
  await decided(page)
  await page.evaluate(() => new Promise((frame) => requestAnimationFrame(() => requestAnimationFrame(frame))))
  return page.evaluate(() => (window as unknown as Sampled).painted)
}

/** Goes through the whole booking and returns the paid amount as shown. */
export async function book(page: Page, origin: string): Promise<string> {
  await page.goto(`${origin}/book`)
  await page.getByLabel('Day').fill('2027-05-01')
  await page.getByLabel(/Length of the vehicle/).fill('4.2')
  await page.getByRole('button', { name: 'Go on' }).click()
  await page.getByLabel('Name').fill('Ada Made-Up')
  await page.getByLabel('E-mail address').fill('ada@visitor.example')
  await page.getByRole('button', { name: 'Go on to payment' }).click()
  await page.getByLabel(/Card number/).fill('1234')
  await page.getByRole('button', { name: 'Pay now' }).click()
  // A page has no text to see before the snippet has decided.
  const total = page.locator('#order-total')
  await total.waitFor()
  return total.innerText()
}

/** Waits until the snippet has begun its view and has nothing left that Vetch has not acknowledged. */
export async function reported(page: Page): Promise<void> {
  await page.waitForFunction(
    () =>
      performance.now() - (performance.getEntriesByName('vetch').at(-1)?.startTime ?? Infinity) > 400 &&
      localStorage.getItem('vetch_session') !== null &&
      !Object.keys(localStorage).some((name) => name.startsWith('vetch_q:')),
  )
}

/** Waits until the page is shown: the snippet has decided, or has nothing to do. */
export async function decided(page: Page): Promise<void> {
  await page.waitForFunction(() => performance.getEntriesByName('first-contentful-paint').length > 0)
}

/** Waits until what Vetch serves holds a text, or holds it no more: browsers get it so from then on. */
export async function served(address: string, key: string, text: string, isThere = true): Promise<void> {
  await expect
    .poll(async () => (await (await fetch(`${address}/s/${key}.json`, { cache: 'no-store' })).text()).includes(text))
    .toBe(isThere)
}
