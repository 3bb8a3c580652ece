const VARIANT = /^vetch-variant=(\d+) /
const WITHOUT = /^vetch-variant=\d+ without /
const TOKEN = /vetch-point=[\w.-]+$/

/** The variant that was chosen on an earlier page of this tab. */
export function keptVariant(variants: number): number | null {
  const kept = VARIANT.exec(window.name)?.[1]
  return kept !== undefined && Number(kept) < variants ? Number(kept) : null
}

/** Whether this tab leaves out what is served anyway. */
export function leavesOutServed(): boolean {
  return WITHOUT.test(window.name)
}

/** Keeps the preview for the pages that this tab goes to. The name of the tab reaches every page of the site. */
export function keepPlace(variant: number, isWithoutServed: boolean): void {
  window.name = `vetch-variant=${variant} ${isWithoutServed ? 'without ' : ''}${tokenOfTab()}`
}

/** The token that this tab was opened with. */
export function tokenOfTab(): string {
  return TOKEN.exec(location.hash)?.[0] ?? TOKEN.exec(window.name)?.[0] ?? ''
}

/** Under this name the device keeps what it is pinned by; the snippet looks there. */
const PIN = 'vetch_pin'

/** Pins this browser by the token that the page was opened with. */
export function keepPin(): void {
  const token = TOKEN.exec(location.hash)?.[0]
  if (token) localStorage.setItem(PIN, token)
}

/**
 * Ends the preview in this tab: the page is opened anew, as visitors have it.
 *
 * @param isPinned - ends it on this device for good
 */
export function leave(isPinned: boolean): void {
  const isOfTab = TOKEN.test(location.hash) || TOKEN.test(window.name)
  if (isPinned || !isOfTab) localStorage.removeItem(PIN)
  window.name = ''
  if (TOKEN.test(location.hash)) history.replaceState(null, '', location.pathname + location.search)
  location.reload()
}
