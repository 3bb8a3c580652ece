import { existsSync } from 'node:fs'
import { installDebianPackages } from './command'

/** Debian's Chromium without a window, and the one with: it does the same at twice the time. */
const WITHOUT_WINDOW = '/usr/bin/chromium-headless-shell'
const WITH_WINDOW = '/usr/bin/chromium'

/** The browser that tests drive. */
export function browserProgram(): string {
  return existsSync(WITHOUT_WINDOW) ? WITHOUT_WINDOW : WITH_WINDOW
}

/** Sees to it that there is a browser to drive. */
export async function installBrowser(): Promise<void> {
  if (existsSync(WITHOUT_WINDOW)) return
  try {
    await installDebianPackages(['chromium-headless-shell'], 'Chromium')
  } catch (error) {
    if (!existsSync(WITH_WINDOW)) throw error
    console.error(`Chromium without a window could not be installed; ${WITH_WINDOW} takes its place.`)
  }
}
