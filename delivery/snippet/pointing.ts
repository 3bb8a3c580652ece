import { fetchScript } from './fetchScript'
import { readStorage } from './keeping'

const TOKEN = /vetch-point=([\d.]+[\w-]+)/

/**
 * Hands the page over when it was opened for pointing or for a preview: nothing is counted or changed then but by what
 * the token brings. The name of the frame or window keeps the token from page to page, and a pinned device for good.
 *
 * @returns whether the page was opened so
 */
export function startPointing(base: string, key: string): boolean {
  const token = TOKEN.exec(`${location.hash},${window.name},${readStorage('vetch_pin')}`)?.[1]
  if (!token) return false
  fetchScript(`${base}/overlay.js?key=${key}&token=${token}`)
  return true
}
