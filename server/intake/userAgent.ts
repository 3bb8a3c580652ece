import Bowser from 'bowser'
import { isbot } from 'isbot'
import { LRUCache } from 'lru-cache'

/** What a browser says it is. */
export interface UserAgent {
  device: 'phone' | 'tablet' | 'desktop' | 'other'
  system: string
  browser: string
  browserVersion: string | null
  isRobot: boolean
}

const DEVICES: Record<string, UserAgent['device']> = { mobile: 'phone', tablet: 'tablet', desktop: 'desktop' }
const known = new LRUCache<string, UserAgent>({ max: 5000 })

/** Reads a `User-Agent` header. There are few different ones, so what was read is remembered. */
export function readUserAgent(header: string): UserAgent {
  const text = header.slice(0, 500)
  let found = known.get(text)
  if (!found) known.set(text, (found = parse(text)))
  return found
}

function parse(text: string): UserAgent {
  if (!text) return { device: 'other', system: 'unknown', browser: 'unknown', browserVersion: null, isRobot: true }
  const { browser, os, platform } = Bowser.parse(text)
  return {
    device: DEVICES[platform.type ?? ''] ?? 'other',
    system: os.name || 'unknown',
    browser: browser.name || 'unknown',
    browserVersion: browser.version?.split('.')[0] || null,
    isRobot: isbot(text),
  }
}
