import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { chromium, type BrowserServer } from 'playwright-core'

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

/** The browser that takes pictures; null where none is installed. */
export function browserProgram(): string | null {
  return BROWSERS.find((program) => existsSync(program)) ?? null
}

let hasSandbox = true

/** A browser in its sandbox where the system allows one. Without, it still has no rights, and limits. */
export async function launchBrowser(program: string): Promise<BrowserServer> {
  const start = () =>
    chromium.launchServer({
      host: '127.0.0.1',
      executablePath: withLimits(),
      env: { PATH: process.env.PATH ?? '', VETCH_BROWSER: program },
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
function withLimits(): string {
  return join(resolve(process.env.NUXT_DELIVERY_DIRECTORY || '.output/delivery'), '../browser/browser.sh')
}
