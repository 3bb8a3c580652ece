import { chromium, type Browser } from 'playwright-core'
import { browserProgram, launchBrowser } from '../../browser/launch'
import { HttpProblem } from '../HttpProblem'

/** Pages that are open at the same time: one that never ends holds up no other. */
const MOST_AT_ONCE = 3

const waiting: (() => void)[] = []
let open = 0

/**
 * Works with a browser of its own, which is closed at the end, or when the time is over. It has its sandbox, and no
 * rights: it is lent by a process that runs as somebody else.
 *
 * @param most - how long all may take, in ms
 * @throws HttpProblem 503 where there is no browser
 */
export async function withBrowser<Result>(most: number, work: (browser: Browser) => Promise<Result>): Promise<Result> {
  await turn()
  try {
    const lent = await lend()
    try {
      const browser = await chromium.connect(lent.address)
      const patience = setTimeout(() => void browser.close(), most)
      try {
        return await work(browser)
      } finally {
        clearTimeout(patience)
        await browser.close()
      }
    } finally {
      lent.giveBack()
    }
  } finally {
    open--
    waiting.shift()?.()
  }
}

async function turn(): Promise<void> {
  if (open >= MOST_AT_ONCE) await new Promise<void>((free) => waiting.push(free))
  open++
}

interface Lent {
  address: string
  giveBack: () => void
}

/** Asks the process that lends browsers; without one, starts a browser by itself. */
async function lend(): Promise<Lent> {
  const { VETCH_BROWSERS_URL: url, VETCH_BROWSER_KEY: key } = process.env
  const program = browserProgram()
  if (!program) throw new HttpProblem(503, 'No picture was taken: Chromium is not installed where Vetch runs.')
  if (!url) {
    const browser = await launchBrowser(program)
    return { address: browser.wsEndpoint(), giveBack: () => void browser.kill() }
  }
  const held = new AbortController()
  const response = await fetch(url, { headers: { authorization: `Bearer ${key}` }, signal: held.signal }).catch(
    () => null,
  )
  const first = response?.ok
    ? await response
        .body!.getReader()
        .read()
        .catch(() => null)
    : null
  if (!first?.value) {
    held.abort()
    throw new HttpProblem(503, 'No picture was taken: the browser did not start. Try again in a moment.')
  }
  return { address: new TextDecoder().decode(first.value).trim(), giveBack: () => held.abort() }
}
