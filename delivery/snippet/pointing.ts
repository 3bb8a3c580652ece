const TOKEN = /^#vetch-point=(\d+\.\d+\.[\w-]+)$/

/**
 * Hands the page over to the overlay when Vetch has opened it for pointing: nothing is counted or changed then.
 *
 * @returns whether the page is open for pointing
 */
export function startPointing(base: string, key: string): boolean {
  const token = TOKEN.exec(location.hash)?.[1]
  if (!token || window.parent === window) return false
  const script = document.createElement('script')
  script.src = `${base}/overlay.js?key=${encodeURIComponent(key)}&token=${encodeURIComponent(token)}`
  document.head.append(script)
  return true
}
