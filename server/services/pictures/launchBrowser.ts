import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { chromium, type Browser } from 'playwright-core'
import { HttpProblem } from '../HttpProblem'

/** Where Debian puts Chromium. */
const BROWSERS = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium']
/** No port answers here: what does not come through Vetch's own hands comes nowhere. */
const NO_PROXY = 'http://127.0.0.1:9'
const ARGUMENTS = [
  // What goes by UDP, and so by no proxy, goes nowhere either.
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--js-flags=--max-old-space-size=512',
  '--disable-dev-shm-usage',
]
/** Pages that are open at the same time: one that never ends holds up no other. */
const MOST_AT_ONCE = 3

/** The browser that takes pictures; null where none is installed. */
export function browserProgram(): string | null {
  return BROWSERS.find((program) => existsSync(program)) ?? null
}

const waiting: (() => void)[] = []
let open = 0

/**
 * Works with a browser of its own, which is closed at the end, or when the time is over. It has its sandbox, and no
 * rights: where Vetch runs as root, it runs as somebody else.
 *
 * @param most - how long all may take, in ms
 * @throws HttpProblem 503 where there is no browser
 */
export async function withBrowser<Result>(most: number, work: (browser: Browser) => Promise<Result>): Promise<Result> {
  const program = browserProgram()
  if (!program) throw new HttpProblem(503, 'No picture was taken: Chromium is not installed where Vetch runs.')
  await turn()
  try {
    const browser = await launch(program)
    const patience = setTimeout(() => void browser.close(), most)
    try {
      return await work(browser)
    } finally {
      clearTimeout(patience)
      await browser.close()
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

let hasSandbox = true

/** In its sandbox where the system allows one. Without, it still has no rights, and limits. */
async function launch(program: string): Promise<Browser> {
  const isRoot = process.getuid?.() === 0
  const start = () =>
    chromium.launch({
      executablePath: isRoot ? ordinaryUser() : program,
      env: isRoot ? { PATH: process.env.PATH ?? '', VETCH_BROWSER: program } : undefined,
      chromiumSandbox: hasSandbox,
      args: ARGUMENTS,
      proxy: { server: NO_PROXY },
    })
  try {
    return await start()
  } catch (error) {
    if (!hasSandbox || !/no usable sandbox|sandbox_host|namespace/i.test(String(error))) throw error
    console.error('The system allows Chromium no sandbox. Pictures are taken without one, by a user without rights.')
    hasSandbox = false
    return start()
  }
}

/** Beside what is delivered, where the build has put it. */
function ordinaryUser(): string {
  return join(resolve(process.env.NUXT_DELIVERY_DIRECTORY || '.output/delivery'), '../browser/browser.sh')
}
