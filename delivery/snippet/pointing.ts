import { fetchScript } from './fetchScript'

const TOKEN = /vetch-point=([\d.]+[\w-]+)$/

/**
 * Hands the page over to the overlay when Vetch has opened it for pointing: nothing is counted or changed then. The
 * name of its frame or window keeps the token from page to page.
 *
 * @returns whether the page is open for pointing
 */
export function startPointing(base: string, key: string): boolean {
  const token = (TOKEN.exec(location.hash) ?? TOKEN.exec(window.name))?.[1]
  if (!token || (window.parent === window && !window.opener)) return false
  fetchScript(`${base}/overlay.js?key=${key}&token=${token}`)
  return true
}
